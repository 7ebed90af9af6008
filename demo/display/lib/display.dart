/// The public display.
library;

import 'src/models/night.dart';
import 'src/models/weather.dart';
import 'src/pages/frame.dart';
import 'src/pages/night_page.dart';
import 'src/pages/weather_page.dart' deferred as weather;
import 'src/services/clock.dart';
import 'src/services/log.dart' if (dart.library.js_interop) 'src/services/log_web.dart';

export 'src/models/night.dart' show Night;
export 'src/models/weather.dart' hide calm;

class Display {
  final Clock _clock;
  Display(this._clock);

  String page(String path) {
    note('asked for $path');
    final night = Night.tonight(_clock);
    final parts = [nightPart(night), if (path != '/night') weatherPart(Weather.at(_clock))];
    return frame('Hilltop Observatory', parts);
  }
}

Future<void> warmUp() => weather.loadLibrary();

String weatherPart(Weather now) => now.speed > 10 ? '<p>The dome is shut.</p>' : '<p>The dome is open.</p>';
