import 'package:public_display/src/services/clock.dart';

/// The weather at the mast.
class Weather {
  final double speed;
  const Weather(this.speed);

  static Weather at(Clock clock) => Weather(clock.hour / 2);
}

bool calm(Weather now) => now.speed < 10;
