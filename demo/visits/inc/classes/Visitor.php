<?php

namespace Hilltop;

class Visitor
{
    public function __construct(public readonly string $name)
    {
    }
}
