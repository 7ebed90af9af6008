<?php

namespace Hilltop;

class NightsController
{
    use Page;

    public function __construct(private NightStore $store)
    {
    }

    public function show(): string
    {
        return $this->view('nights', ['nights' => $this->store->all()]);
    }
}
