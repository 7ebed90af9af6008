export 'src/star.dart';
export 'src/catalogue.dart' show brightest;
