<?php

namespace Hilltop;

trait Page
{
    private function view(string $name, array $values): string
    {
        extract($values);
        ob_start();
        include ROOT . '/views/' . $name . '.php';

        return ob_get_clean();
    }
}
