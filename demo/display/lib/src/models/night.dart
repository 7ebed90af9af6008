import 'package:sky_data/sky_data.dart';

import '../services/clock.dart';

part 'night.g.dart';

/// A night at the telescope.
class Night {
  final Star star;
  final int hour;
  const Night(this.star, this.hour);

  static Night tonight(Clock clock) => _$night(brightest(), clock.hour);
}
