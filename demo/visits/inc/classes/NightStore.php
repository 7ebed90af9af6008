<?php

namespace Hilltop;

class NightStore
{
    public function __construct(private string $file)
    {
    }

    /** @return array<string, Night> */
    public function all(): array
    {
        $nights = [];
        foreach (json_decode(file_get_contents($this->file), true) as $row) {
            $visitors = array_map(fn (string $name): Visitor => new Visitor($name), $row['visitors']);
            $nights[$row['day']] = new Night($row['day'], $row['telescope'], $visitors);
        }

        return $nights;
    }
}
