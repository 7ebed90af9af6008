/// What is asked for on the command line.
class Options {
  final bool once;
  final int port;
  const Options(this.once, this.port);

  static Options read(List<String> arguments) =>
      Options(arguments.contains('--once'), arguments.isNotEmpty ? int.tryParse(arguments.last) ?? 8300 : 8300);
}
