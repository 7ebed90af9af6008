import 'star.dart';

const stars = [Star('Vega', 0.03), Star('Arcturus', -0.05), Star('Capella', 0.08)];

Star brightest() => stars.reduce((a, b) => a.magnitude < b.magnitude ? a : b);
