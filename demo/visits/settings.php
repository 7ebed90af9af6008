<?php

return [
    'zone' => 'UTC',
    'seats' => 6,
];
