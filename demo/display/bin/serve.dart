import 'dart:io';

import 'package:public_display/display.dart';
import 'package:public_display/src/services/clock.dart' as clock;

import 'options.dart';

Future<void> main(List<String> arguments) async {
  final options = Options.read(arguments);
  final display = Display(clock.fixed(22));
  if (options.once) {
    stdout.write(display.page('/'));
    return;
  }
  final server = await HttpServer.bind(InternetAddress.loopbackIPv4, options.port);
  await for (final request in server) {
    request.response.headers.contentType = ContentType.html;
    request.response.write(display.page(request.uri.path));
    await request.response.close();
  }
}
