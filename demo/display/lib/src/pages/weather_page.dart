import '../models/weather.dart' show Weather, calm;
import 'text.dart';

String longWeather(Weather now) => paragraph(calm(now) ? 'The wind is weak.' : 'The wind is strong.');
