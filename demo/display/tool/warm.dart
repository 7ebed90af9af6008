import 'package:public_display/display.dart';

void main() => warmUp();
