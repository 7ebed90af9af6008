<?php
require __DIR__ . '/inc/bootstrap.php';

$title = 'Welcome';
include 'inc/header.php';
?>
<h1>Hilltop Observatory</h1>
<p><a href="nights.php">Open nights</a></p>
<img src="img/dome.svg" alt="The dome">
<?php include 'inc/footer.php';
