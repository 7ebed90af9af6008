import '../models/night.dart';
import 'text.dart';

String nightPart(Night night) => paragraph('Tonight at ${night.hour}: ${night.star.name}');
