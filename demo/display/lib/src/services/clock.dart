/// Says what hour it is.
abstract class Clock {
  int get hour;
}

class _Fixed implements Clock {
  @override
  final int hour;
  const _Fixed(this.hour);
}

Clock fixed(int hour) => _Fixed(hour);
