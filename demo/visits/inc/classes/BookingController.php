<?php

namespace Hilltop;

class BookingController
{
    use Page;

    /** What a night may be asked for, by its word in the address. */
    private const KINDS = ['night' => 'Hilltop\Night', 'visitor' => Visitor::class];

    public function __construct(private NightStore $store)
    {
    }

    public function show(string $day): string
    {
        $night = $this->store->all()[$day] ?? null;
        if (!$night instanceof Night) {
            return $this->view('none', ['kinds' => array_keys(self::KINDS)]);
        }

        return $this->view('book', ['night' => $night]);
    }
}
