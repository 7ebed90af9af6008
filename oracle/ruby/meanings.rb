# Writes down what constants mean in the running program, a line each: their names in full, and the files that define
# them.
#
#   ruby meanings.rb PROGRAM LIST      where PROGRAM loads all files, and LIST has lines: the modules around with | between,
#                                      - for none, and the constant
require 'set'
load ARGV[0]
NAME = Module.instance_method(:name)

# home gives the module in which a name is found from a module on, with what it is built on.
def home(mod, name, top)
  mod.ancestors.find { |a| (top || a != Object && a != Kernel && a != BasicObject) && a.const_defined?(name, false) }
end

# where gives the file of a module.
def where(mod)
  name = NAME.bind_call(mod)
  return if mod == Object || name.nil?
  Object.const_source_location(name).first || name.include?('::') && where(Object.const_get(name[/.*(?=::)/]))
end

def resolve(around, text)
  rooted = text.start_with?('::')
  parts = text.delete_prefix('::').split('::')
  nesting = around.reverse.map { |n| Object.const_get(n) }.reverse
  holder = nil
  unless rooted
    holder = nesting.find { |m| m.const_defined?(parts[0], false) }
    holder ||= home(nesting[0], parts[0], false) if nesting[0]
  end
  holder ||= Object if Object.const_defined?(parts[0], false) || home(Object, parts[0], true)
  out = []
  parts.each_with_index do |part, i|
    unless i.zero?
      inner = holder.const_get(out.last[2], false)
      return out unless inner.is_a?(Module)
      holder = home(inner, part, false)
    end
    return out unless holder
    holder.const_get(part)
    file, = holder.const_source_location(part)
    file ||= out.last ? out.last[1] : where(holder) # of what was loaded when it was first asked for, nothing is known
    out << [holder == Object ? part : "#{NAME.bind_call(holder)}::#{part}", file, part]
  end
  out
end

File.foreach(ARGV[1], chomp: true) do |line|
  around, text = line.split(' ')
  around = around == '-' ? [] : around.split('|')
  found = begin
    resolve(around, text)
  rescue NameError, LoadError # the program can't say
    puts '?'
    next
  end
  puts found.map { |name, file| "#{name}=#{file}" }.join(' ')
end
