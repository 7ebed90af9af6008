<nav><a href="index.php">Home</a> <a href="nights.php">Nights</a> <a href="book.php">Book</a></nav>
