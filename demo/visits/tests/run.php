<?php

use Hilltop\NightStore;

require dirname(__DIR__) . '/inc/bootstrap.php';

$nights = (new NightStore(__DIR__ . '/../data/nights.json'))->all();
if (count($nights) !== 2 || $nights['2026-03-14']->free(6) !== 4) {
    exit("the nights are wrong\n");
}
echo "2 nights, as expected\n";
