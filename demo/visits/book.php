<?php

use Hilltop\BookingController;
use Hilltop\NightStore;

require __DIR__ . '/inc/bootstrap.php';

$title = 'Book a night';
include 'inc/header.php';
echo (new BookingController(new NightStore(ROOT . '/data/nights.json')))->show((string) ($_GET['night'] ?? ''));
include 'inc/footer.php';
