<?php /** @var Hilltop\Night $night */ ?>
<h1><?= long_date($night->day) ?></h1>
<p>At the <?= $night->telescope ?>, with <?= count($night->visitors) ?> others.</p>
<img src="img/dome.svg" alt="">
