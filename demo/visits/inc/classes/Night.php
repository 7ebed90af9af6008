<?php

namespace Hilltop;

class Night
{
    /** @param Visitor[] $visitors */
    public function __construct(
        public readonly string $day,
        public readonly string $telescope,
        public readonly array $visitors = [],
    ) {
    }

    public function free(int $seats): int
    {
        return $seats - count($this->visitors);
    }
}
