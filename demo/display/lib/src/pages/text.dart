String paragraph(String text) => '<p>$text</p>';
