<ul>
<?php foreach ($nights as $night): ?>
<li><a href="book.php?night=<?= $night->day ?>"><?= long_date($night->day) ?></a>: <?= $night->telescope ?>, <?= $night->free(6) ?> seats free</li>
<?php endforeach ?>
</ul>
