<?php
require __DIR__ . '/inc/bootstrap.php';

$desk = new Hilltop\NightsController(new Hilltop\NightStore(ROOT . '/data/nights.json'));
$title = 'Nights';
include 'inc/header.php';
echo $desk->show();
include 'inc/footer.php';
