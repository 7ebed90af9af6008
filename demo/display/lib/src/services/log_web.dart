void note(String text) {}
