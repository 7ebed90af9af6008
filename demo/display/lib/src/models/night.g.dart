// GENERATED CODE - DO NOT MODIFY BY HAND

part of 'night.dart';

Night _$night(Star star, int hour) => Night(star, hour);
