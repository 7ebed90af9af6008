<footer>Hilltop Observatory, <?= long_date('2026-01-01') ?></footer>
</body>
</html>
