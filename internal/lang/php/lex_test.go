package php

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

// Each row is a text and its tokens: where PHP begins and ends, what is text, and what is put into it.
func TestTokens(t *testing.T) {
	t.Parallel()
	called := map[kind]string{tHTML: "html", tOpen: "open", tOpenEcho: "echo", tClose: "close", tWord: "word",
		tQualified: "qualified", tFull: "full", tRelative: "relative", tVariable: "variable", tNumber: "number",
		tString: "string", tPart: "part", tQuote: "quote", tHereStart: "heredoc", tHereEnd: "end", tDoc: "doc",
		tAttribute: "attribute", tPutIn: "in", tCast: "cast", tShortOpen: "short", tUnfinished: "unfinished",
		tArrow: "arrow", tColons: "colons", tEllipsis: "ellipsis"}
	for _, row := range []struct{ name, src, want string }{
		{"text around", "a <?php b ?>\nc<?= d ?>", "html(a ) open(<?php ) word(b) close(?>\n) html(c) echo(<?=) word(d) close(?>)"},
		{"only text", "<?xml version='1.0'?>\n<?phpx ?>", "html(<?xml version='1.0'?>\n<?phpx ?>)"},
		{"a tag at the end", "<?php", "open(<?php)"},
		{"a tag in capitals, and the end of a line in two bytes", "<?PHP\r\na ?>\r\nb", "open(<?PHP\r\n) word(a) close(?>\r\n) html(b)"},
		{"a short tag", "<? a", "short(<?) html( a)"},
		{"comments", "<?php // a\n# b\n/* c */ /**/ /** d */ e", "open(<?php ) doc(/** d */) word(e)"},
		{"the end of PHP in a comment", "<?php // a ?> b <?php # c ?>d", "open(<?php ) close(?>) html( b ) open(<?php ) close(?>) html(d)"},
		{"an attribute is no comment", "<?php #[A] #b\nc", "open(<?php ) attribute(#[) word(A) ](]) word(c)"},
		{"names", "<?php A\\B \\C namespace\\D namespace E\\ F \\", "open(<?php ) qualified(A\\B) full(\\C) relative(namespace\\D) " +
			"word(namespace) word(E) \\(\\) word(F) \\(\\)"},
		{"letters with accents", "<?php $größe->höhe", "open(<?php ) variable($größe) arrow(->) word(höhe)"},
		{"variables of variables", "<?php $$a ${'b'}", "open(<?php ) $($) variable($a) $($) {({) string('b') }(})"},
		{"numbers", "<?php 1.5e-3 .5 0x1F 1_000 1...$a 2.", "open(<?php ) number(1.5e-3) number(.5) number(0x1F) number(1_000) " +
			"number(1) ellipsis(...) variable($a) number(2.)"},
		{"casts", "<?php (int) $a ( String ) (object)", "open(<?php ) cast((int)) variable($a) cast(( String )) cast((object))"},
		{"strings", "<?php 'a\\'b' \"c\\\"d\" '$e' \"\\$f\"", "open(<?php ) string('a\\'b') string(\"c\\\"d\") string('$e') string(\"\\$f\")"},
		{"what is put into strings", "<?php \"a $b[0] c $d->e f\"", "open(<?php ) quote(\") part(a ) variable($b) part( c ) variable($d) part( f) quote(\")"},
		{"code in strings", "<?php \"{$a['b']} ${c} ${d[1]}\"", "open(<?php ) quote(\") in({) variable($a) [([) string('b') ](]) }(}) part( ) " +
			"in(${) variable(c) }(}) part( ) in(${) variable(d) [([) number(1) ](]) }(}) quote(\")"},
		{"strings in strings", "<?php \"{$a->b(\"c $d\")}\"", "open(<?php ) quote(\") in({) variable($a) arrow(->) word(b) ((() quote(\") " +
			"part(c ) variable($d) quote(\") )()) }(}) quote(\")"},
		{"commands", "<?php `ls $a`", "open(<?php ) quote(`) part(ls ) variable($a) quote(`)"},
		{"heredoc", "<?php <<<A\nb $c\nAB\n A;", "open(<?php ) heredoc(<<<A\n) part(b ) variable($c) part(\nAB\n) end( A) ;(;)"},
		{"heredoc with quotes", "<?php <<<\"A\"\nA . <<<'B'\n$c {$d}\nB", "open(<?php ) heredoc(<<<\"A\"\n) end(A) .(.) heredoc(<<<'B'\n) " +
			"part($c {$d}\n) end(B)"},
		{"braces in a heredoc", "<?php <<<A\n{$b(<<<C\nd\nC)}\nA;", "open(<?php ) heredoc(<<<A\n) in({) variable($b) ((() heredoc(<<<C\n) " +
			"part(d\n) end(C) )()) }(}) part(\n) end(A) ;(;)"},
		{"shifts are no heredoc", "<?php 1 <<< 2 << 3", "open(<?php ) number(1) <(<) <(<) <(<) number(2) <(<) <(<) number(3)"},
		{"data behind the program", "<?php a; __halt_compiler(); 'b", "open(<?php ) word(a) ;(;) word(__halt_compiler)"},
		{"a string without an end", "<?php 'a", "open(<?php ) unfinished('a)"},
		{"a string with a variable and no end", "<?php \"a $b", "open(<?php ) quote(\") part(a ) variable($b) unfinished(\"a $b)"},
	} {
		t.Run(row.name, func(t *testing.T) {
			t.Parallel()
			var out []string
			for _, tok := range lex([]byte(row.src), nil) {
				name := called[tok.kind]
				if tok.kind == tEnd {
					break
				}
				if name == "" {
					name = string(rune(tok.kind))
				}
				out = append(out, fmt.Sprintf("%s(%s)", name, row.src[tok.start:tok.end]))
			}
			assert.Equal(t, row.want, strings.Join(out, " "))
		})
	}
}

// How far a folder is above the file is written in the manner of the old text.
func TestCounted(t *testing.T) {
	t.Parallel()
	for _, row := range []struct {
		old  string
		ups  int
		want string
	}{
		{"__DIR__", 0, "__DIR__"}, {"__DIR__", 1, "dirname(__DIR__)"}, {"__DIR__", 3, "dirname(__DIR__, 3)"},
		{"dirname(__DIR__)", 0, "__DIR__"}, {"dirname(__DIR__)", 2, "dirname(__DIR__, 2)"},
		{"dirname(dirname(__DIR__))", 3, "dirname(dirname(dirname(__DIR__)))"},
		{"dirname(__FILE__)", 0, "dirname(__FILE__)"}, {"dirname(__FILE__)", 1, "dirname(__FILE__, 2)"},
		{"dirname(dirname(__FILE__))", 2, "dirname(dirname(dirname(__FILE__)))"},
		{"realpath(__DIR__ . '/..')", 2, "realpath(dirname(__DIR__, 2))"},
	} {
		assert.Equal(t, row.want, counted(row.old, row.ups), "%s, %d up", row.old, row.ups)
	}
}

// A name in a text keeps its manner: what stands in front, how its parts are parted, and the method behind it.
func TestRespelled(t *testing.T) {
	t.Parallel()
	for _, row := range []struct {
		text, name, goal string
		quote            byte
		want             string
	}{
		{`A\B`, `A\B`, `C\D`, '\'', `C\D`}, {`\A\B`, `A\B`, `C\D\E`, '\'', `\C\D\E`},
		{`A\\B`, `A\B`, `C\D`, '"', `C\\D`}, {`\\A\\B::m`, `A\B`, `C\D`, '\'', `\\C\\D::m`},
		{`A\B@m`, `A\B`, `C\D`, '\'', `C\D@m`}, {`A\B:m`, `A\B`, `C\D`, '\'', `C\D:m`},
		{`A\B`, `A\B`, `C\nights`, '"', `C\\nights`}, {`A\B`, `A\B`, `C\Nights`, '"', `C\Nights`},
		{`A\\B\\`, `A\B`, `C\D`, '\'', `C\\D\\`}, {`A\`, `A`, `B\C`, 0, `B\C\`}, {`A\\`, `A`, `B\C`, '\'', `B\\C\\`},
	} {
		assert.Equal(t, row.want, respelled(row.text, row.name, row.goal, row.quote), "%s to %s", row.text, row.goal)
	}
}
