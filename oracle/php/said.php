<?php
// Writes down what PHP's own tokenizer and parser say of files, for a comparison. LIST names the files, one a line.
//
//   php said.php LIST OUT
//
// For each file: "# path", then lines in no order. "t KIND START END" are borders of tokens, "START SPACE NAME" what a
// name stands for by the parser's resolver, "START namespace NAME", "START import SPACE NAME ALIAS", "declares SPACE NAME",
// and "START path PATH" where an include's expression begins and which path it is, for those that need nothing but the
// file. "! MESSAGE" is a file that PHP does not take.

require '/usr/share/php/PhpParser/autoload.php';

use PhpParser\Node;
use PHPStan\PhpDocParser\Ast;
use PHPStan\PhpDocParser\Lexer\Lexer as DocLexer;
use PHPStan\PhpDocParser\Parser\ConstExprParser;
use PHPStan\PhpDocParser\Parser\PhpDocParser;
use PHPStan\PhpDocParser\Parser\TokenIterator;
use PHPStan\PhpDocParser\Parser\TypeParser;

require '/usr/share/php/PHPStan/PhpDocParser/autoload.php';

/** Gathers the names of one file. */
class Names extends PhpParser\NodeVisitorAbstract
{
    public array $lines = [];
    private array $around = [];

    public function __construct(private string $file)
    {
    }

    public function enterNode(Node $node)
    {
        $above = end($this->around) ?: null;
        $this->around[] = $node;
        if ($node instanceof Node\Name) {
            $this->name($node, $above);
        } elseif ($node instanceof Node\Stmt\ClassLike && $node->name) {
            $this->lines[] = 'declares class ' . $node->namespacedName;
        } elseif ($node instanceof Node\Stmt\Function_) {
            $this->lines[] = 'declares function ' . $node->namespacedName;
        } elseif ($node instanceof Node\Stmt\Const_) {
            foreach ($node->consts as $const) {
                $this->lines[] = 'declares constant ' . $const->namespacedName;
            }
        } elseif ($node instanceof Node\Expr\Include_ && ($path = $this->path($node->expr)) !== null) {
            $this->lines[] = $node->expr->getAttribute('startFilePos') . ' path ' . $path;
        }
    }

    public function leaveNode(Node $node)
    {
        array_pop($this->around);
    }

    private function name(Node\Name $name, ?Node $above): void
    {
        $at = $name->getAttribute('startFilePos');
        if ($above instanceof Node\Stmt\Namespace_) {
            $this->lines[] = "$at namespace $name";
        } elseif ($above instanceof Node\Stmt\UseUse) {
            $group = $this->around[count($this->around) - 3];
            $space = ['', 'class', 'function', 'constant'][$above->type ?: $group->type];
            $full = $group instanceof Node\Stmt\GroupUse ? $group->prefix . '\\' . $name : (string) $name;
            $this->lines[] = "$at import $space $full " . $above->getAlias();
        } elseif (!$above instanceof Node\Stmt\GroupUse) {
            $space = match (true) {
                $above instanceof Node\Expr\FuncCall => 'function',
                $above instanceof Node\Expr\ConstFetch => 'constant',
                default => 'class',
            };
            $lower = $name->toLowerString();
            if (in_array($lower, ['class' => ['self', 'static', 'parent'], 'constant' => ['true', 'false', 'null']][$space] ?? [])) {
                return;
            }
            $this->lines[] = "$at $space " . ($name->getAttribute('resolvedName') ?? $name->getAttribute('namespacedName') ?? $name);
        }
    }

    /** The path that an expression is, if it needs nothing but the place of the file. */
    private function path(Node $e): ?string
    {
        if ($e instanceof Node\Scalar\String_) {
            return $e->value;
        }
        if ($e instanceof Node\Scalar\MagicConst\Dir) {
            return dirname($this->file);
        }
        if ($e instanceof Node\Scalar\MagicConst\File) {
            return $this->file;
        }
        if ($e instanceof Node\Expr\BinaryOp\Concat) {
            $left = $this->path($e->left);
            $right = $this->path($e->right);

            return $left === null || $right === null ? null : $left . $right;
        }
        if ($e instanceof Node\Expr\FuncCall && $e->name instanceof Node\Name && $e->name->toLowerString() === 'dirname') {
            $path = $this->path($e->args[0]->value);
            $up = isset($e->args[1]) ? ($e->args[1]->value->value ?? null) : 1;

            return $path === null || $up === null ? null : dirname($path, $up);
        }

        return null;
    }
}

/** Gathers the classes in the types of one comment. */
class Types
{
    private const NONE = 'self static parent int float bool string array callable iterable object mixed void null never false true resource '
        . 'integer boolean double numeric scalar list number';
    private const TAGS = '@var @param @return @throws @property @property-read @property-write @method @mixin @extends @implements '
        . '@template-extends @template-implements @use @template-use';
    public array $lines = [];
    public bool $doubtful = false;
    private DocLexer $lexer;
    private PhpDocParser $parser;

    public function __construct()
    {
        $this->lexer = new DocLexer;
        $this->parser = new PhpDocParser(new TypeParser(new ConstExprParser), new ConstExprParser);
    }

    public function comment(string $text): void
    {
        try {
            $tags = $this->parser->parse(new TokenIterator($this->lexer->tokenize($text)))->getTags();
        } catch (Throwable $e) {
            $this->doubtful = true;

            return;
        }
        foreach ($tags as $tag) {
            if ($tag->value instanceof Ast\PhpDoc\InvalidTagValueNode) {
                $this->doubtful = true; // no tool can say what it means
            } elseif (in_array($tag->name, explode(' ', self::TAGS))) {
                $this->walk($tag->value);
            }
        }
    }

    private function walk(mixed $node): void
    {
        foreach (is_array($node) ? $node : [] as $inner) {
            $this->walk($inner);
        }
        if (!is_object($node) || $node instanceof Ast\PhpDoc\GenericTagValueNode) {
            return;
        }
        $name = match (true) {
            $node instanceof Ast\Type\IdentifierTypeNode => $node->name,
            $node instanceof Ast\ConstExpr\ConstFetchNode => $node->className,
            default => '',
        };
        if ($name !== '' && $name[0] !== '$' && !str_contains($name, '-') && !in_array(strtolower($name), explode(' ', self::NONE))) {
            $this->lines[] = "doc $name";
        }
        if ($node instanceof Ast\Type\ArrayShapeItemNode) {
            $this->walk($node->valueType);

            return;
        }
        foreach (get_object_vars($node) as $inner) {
            $this->walk($inner);
        }
    }
}

$kinds = [T_INLINE_HTML => 'html', T_OPEN_TAG => 'open', T_OPEN_TAG_WITH_ECHO => 'open', T_CLOSE_TAG => 'close',
    T_CONSTANT_ENCAPSED_STRING => 'string', T_ENCAPSED_AND_WHITESPACE => 'part', T_START_HEREDOC => 'heredoc',
    T_END_HEREDOC => 'end', T_DOC_COMMENT => 'doc', T_ATTRIBUTE => 'attribute', T_NAME_QUALIFIED => 'qualified',
    T_NAME_FULLY_QUALIFIED => 'full', T_NAME_RELATIVE => 'relative'];
$parser = (new PhpParser\ParserFactory)->create(PhpParser\ParserFactory::PREFER_PHP7,
    new PhpParser\Lexer(['usedAttributes' => ['startFilePos', 'endFilePos']]));
$out = fopen($argv[2], 'w');
foreach (file($argv[1], FILE_IGNORE_NEW_LINES) as $file) {
    fwrite($out, "# $file\n");
    $text = file_get_contents($file);
    try {
        $names = new Names($file);
        foreach ([new PhpParser\NodeVisitor\NameResolver(null, ['replaceNodes' => false]), $names] as $visitor) {
            $walk = new PhpParser\NodeTraverser;
            $walk->addVisitor($visitor);
            $tree = $walk->traverse($tree ?? $parser->parse($text));
        }
        unset($tree);
        $lines = $names->lines;
    } catch (Throwable $e) {
        unset($tree);
        fwrite($out, '! ' . strtok($e->getMessage(), "\n") . "\n");
        continue;
    }
    $types = new Types;
    foreach (PhpToken::tokenize($text) as $token) {
        if ($token->id === T_DOC_COMMENT) {
            $types->comment($token->text);
        }
        if (isset($kinds[$token->id])) {
            $lines[] = "t {$kinds[$token->id]} {$token->pos} " . ($token->pos + strlen($token->text));
        }
        if ($token->id === T_HALT_COMPILER) {
            break;
        }
    }
    $lines = array_merge($lines, $types->lines, $types->doubtful ? ['doubtful'] : []);
    fwrite($out, implode("\n", $lines) . "\n");
}
