<?php

function long_date(string $day): string
{
    return date('j F Y', strtotime($day));
}
