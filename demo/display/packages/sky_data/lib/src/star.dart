/// A star.
class Star {
  final String name;
  final double magnitude;
  const Star(this.name, this.magnitude);
}
