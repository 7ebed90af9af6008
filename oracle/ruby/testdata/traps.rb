# What a reader must know of what stands before, each on a line of its own.
a = 8
b = a /2
c = a %3
d = [a] <<9
e = a ?b :c
f = a -1
def g = a?(1)
def h(i, j: 2) = i / j
def k i, l = 3
  i %l
end
def m=(n)
  @m = n
end
def /(other) = other
def self.class = 1
p(/#{a}/, %r{/}, a / 2, a/2/1)
p %w[a b], %q(c #{d}), %Q(e #{f}), ?a, ?\n, :"g #{a}", :+, :[]=
p(<<A, <<~'B', <<-"C") if a
text #{a}
A
  raw #{a}
  B
  more #{<<D}
inner
D
  C
while a < 9 do a += 1 end
until a.zero? do a -= 1; end
for i in [1] do p i end
begin
  raise StandardError
rescue ArgumentError, Comparable => error
  p error /1 rescue nil
end
case [1, { k: 2 }]
in [Integer => n, { k: }] then p n /1, k
end
x = [1, 2]
  .map { |y| y *2 }
  # a comment between
  &.sum
p x, { "s": 1, if: 2, end: 3, A: 4 }
alias q puts
alias next2 next rescue nil
-> (r, s = Integer) { r *s }
z = Integer("1") + Float(2)
p Struct, ::Struct, Struct::new(:t), Process::Status, z
=begin
not code: end end end
=end
p(a ? Integer : Float, a ? Process::Status : ::Float)
__END__
class <%= never %>
