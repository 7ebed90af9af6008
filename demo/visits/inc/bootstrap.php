<?php

define('ROOT', dirname(__DIR__));

require_once __DIR__ . '/classes/Night.php';
require_once __DIR__ . '/classes/Visitor.php';
require_once __DIR__ . '/classes/NightStore.php';
require_once __DIR__ . '/classes/Page.php';
require_once __DIR__ . '/classes/NightsController.php';
require_once __DIR__ . '/classes/BookingController.php';
require_once __DIR__ . '/dates.php';

$settings = require ROOT . '/settings.php';
date_default_timezone_set($settings['zone']);
