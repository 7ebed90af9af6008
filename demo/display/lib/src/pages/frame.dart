String frame(String title, List<String> parts) => '<h1>$title</h1>\n${parts.join('\n')}\n';
