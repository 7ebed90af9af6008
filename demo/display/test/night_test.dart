import 'package:public_display/display.dart';
import 'package:public_display/src/pages/night_page.dart';
import 'package:public_display/src/services/clock.dart';

import 'check.dart';

void main() {
  check(nightPart(Night.tonight(fixed(21))), '<p>Tonight at 21: Arcturus</p>');
}
