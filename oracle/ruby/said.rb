# Writes down what the language's own reader says of files, a line each, so that it can be compared: where literals begin
# and end, what is put into them, labels, constants, words of the language and the ends of statements; and by the tree of
# the running language, constants with the names around them, what is declared, and which files are required.
#
#   ruby said.rb LIST      where LIST has the path of a file on each line
require 'ripper'

OPENS = %i[on_tstring_beg on_regexp_beg on_words_beg on_qwords_beg on_symbols_beg on_qsymbols_beg on_backtick on_heredoc_beg].freeze
CLOSES = %i[on_tstring_end on_regexp_end on_label_end on_heredoc_end].freeze

def tokens(src, starts, out)
  before = nil
  Ripper.lex(src).each do |(line, column), event, text, state|
    at = starts[line - 1] + column
    after_symbol = before && before[0] == :on_symbeg && before[1] == ':'
    case event
    when *OPENS then out << "open #{at}" unless event == :on_backtick && (after_symbol || before && (before[1] == 'def' || before[1] == '.'))
    when *CLOSES then out << "close #{at}"
    when :on_symbeg then out << (text == ':' ? "symbol #{at}" : "open #{at}")
    when :on_embexpr_beg then out << "hole #{at}"
    when :on_embexpr_end then out << "end #{at}"
    when :on_CHAR then out << "char #{at}"
    when :on_label then out << "label #{at}"
    when :on_const then out << "const #{at}" unless after_symbol
    when :on_kw then out << "word #{at}" unless after_symbol
    when :on_nl, :on_semicolon then out << "ends #{at}"
    end
    before = [event, text] unless event == :on_sp
  end
end

def walk(node, around, starts, out)
  return unless node.is_a?(RubyVM::AbstractSyntaxTree::Node)
  at = starts[node.first_lineno - 1] + node.first_column
  kids = node.children
  case node.type
  when :CONST then out << "name #{at} #{kids[0]} in #{around.join('|')}"
  when :COLON3 then out << "name #{at} ::#{kids[0]} in #{around.join('|')}"
  when :COLON2
    chain = path(node)
    out << "name #{at} #{chain} in #{around.join('|')}" if chain
    return if chain
  when :CDECL
    target = kids[0].is_a?(Symbol) ? kids[0].to_s : nil
    target = path(kids[0]) || '?' if kids[0].is_a?(RubyVM::AbstractSyntaxTree::Node)
    target ||= path(kids[1]) if kids[1].is_a?(RubyVM::AbstractSyntaxTree::Node)
    out << "value #{at} #{target} in #{around.join('|')}" unless target == '?'
    out << "name #{at} #{target[0...target.rindex('::')]} in #{around.join('|')}" if target&.rindex('::').to_i.positive?
    kids[1..].each { |k| walk(k, around, starts, out) }
    return
  when :CLASS, :MODULE
    name = path(kids[0]) || '?'
    out << "#{node.type.to_s.downcase} #{at} #{name} in #{around.join('|')}"
    if name.rindex('::').to_i.positive?
      out << "name #{starts[kids[0].first_lineno - 1] + kids[0].first_column} #{name[0...name.rindex('::')]} in #{around.join('|')}"
    end
    walk(kids[1], around, starts, out) if node.type == :CLASS
    head = kids[0].children[0]
    walk(head, around, starts, out) if kids[0].type == :COLON2 && head && !path(kids[0])
    walk(kids.last, around + [name], starts, out)
    return
  when :SCLASS
    walk(kids[0], around, starts, out)
    walk(kids[1], around, starts, out)
    return
  when :FCALL, :CALL
    kids = kids[1..] if node.type == :CALL && kids[0].respond_to?(:type) && kids[0].type == :CONST && kids[0].children[0] == :Kernel
    if %i[require require_relative load autoload require_dependency].include?(kids[0]) && kids[1]&.type == :LIST
      strings = kids[1].children.compact.select { |k| k.type == :STR && k.children[0] != '' }
      strings.each { |s| out << "#{kids[0]} #{s.children[0]}" }
    end
  end
  node.children.each { |k| k.is_a?(Array) ? k.each { |n| walk(n, around, starts, out) } : walk(k, around, starts, out) }
end

# path gives A::B, or nothing where it begins with something else.
def path(node)
  case node.type
  when :CONST then node.children[0].to_s
  when :COLON3 then "::#{node.children[0]}"
  when :COLON2
    return node.children[1].to_s if node.children[0].nil?
    head = path(node.children[0])
    head && "#{head}::#{node.children[1]}"
  end
end

$stdout.sync = false
File.foreach(ARGV[0], chomp: true) do |file|
  src = File.binread(file).force_encoding('UTF-8')
  puts "file #{file}"
  tree = begin
    $VERBOSE = nil
    RubyVM::AbstractSyntaxTree.parse(src)
  rescue SyntaxError, ArgumentError, EncodingError
    nil
  end
  if tree.nil?
    puts 'bad'
    next
  end
  starts = [0]
  src.b.scan(/\n/) { starts << Regexp.last_match.end(0) }
  out = []
  tokens(src, starts, out)
  walk(tree, [], starts, out)
  puts out
end
