void check(String is_, String wanted) {
  if (is_ != wanted) throw StateError('$is_ is not $wanted');
}
