package engine

import (
	"path"
	"strings"
)

// languages are the names of languages by ending; what is not here is called by its ending.
var languages = map[string]string{
	".ts": "TypeScript", ".mts": "TypeScript", ".cts": "TypeScript", ".tsx": "TypeScript with JSX", ".js": "JavaScript", ".mjs": "JavaScript", ".cjs": "JavaScript",
	".jsx": "JavaScript with JSX", ".css": "CSS", ".scss": "SCSS", ".sass": "Sass", ".less": "Less", ".html": "HTML", ".htm": "HTML", ".md": "Markdown", ".mdx": "Markdown",
	".json": "JSON", ".yaml": "YAML", ".yml": "YAML", ".toml": "TOML", ".xml": "XML", ".svg": "pictures", ".png": "pictures", ".jpg": "pictures", ".jpeg": "pictures",
	".gif": "pictures", ".webp": "pictures", ".ico": "pictures", ".avif": "pictures", ".woff": "fonts", ".woff2": "fonts", ".ttf": "fonts", ".otf": "fonts",
	".go": "Go", ".py": "Python", ".rs": "Rust", ".java": "Java", ".php": "PHP", ".rb": "Ruby", ".cs": "C#", ".sh": "shell", ".sql": "SQL", ".pug": "pug", ".ejs": "ejs", ".hbs": "handlebars", ".njk": "nunjucks", ".txt": "plain text",
}

func language(p string) string {
	ext := strings.ToLower(path.Ext(p))
	if name, known := languages[ext]; known {
		return name
	}
	if ext == "" || ext == "."+strings.TrimPrefix(path.Base(p), ".") {
		return "other"
	}
	return ext
}

// code says whether a file is a program, by its ending.
func code(p string) bool {
	name := language(p)
	return strings.HasPrefix(name, "TypeScript") || strings.HasPrefix(name, "JavaScript") || name == "shell" || name == "Python"
}
