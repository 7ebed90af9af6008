<!doctype html>
<html>
<head>
<title><?= htmlspecialchars($title) ?></title>
<link rel="stylesheet" href="css/desk.css">
</head>
<body>
<?php include 'inc/menu.php' ?>
