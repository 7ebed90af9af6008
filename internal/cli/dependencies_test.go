package cli_test

import (
	"encoding/json"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Each row is a project, and what is said of the packages that it asks for.
func TestDependencies(t *testing.T) {
	t.Parallel()
	for _, row := range []struct {
		name, tree string
		want       []string
	}{
		{"npm: what no code names", `
-- package.json --
{ "name": "desk", "scripts": { "serve": "star-server ." },
  "dependencies": { "sky": "1", "star-server": "1", "unused-sky": "1", "@types/moon": "1", "@hill/dome": "1", "plugin-x": "1", "by-string": "1" },
  "peerDependencies": { "maybe": "1" }, "peerDependenciesMeta": { "colours": { "optional": true } },
  "devDependencies": { "some-tool": "1" } }
-- package-lock.json --
{ "packages": { "unused-sky": {} } }
-- build.config.js --
export default { plugins: ['plugin-x'] }
-- src/a.ts --
import { rise } from 'sky/rise'
import fs from 'node:fs'
const dome = await import('@hill/dome')
load("by-string")
try { require('colours') } catch {}
import 'desk/self'
`, []string{"spare package.json:2:53 it asks for unused-sky, and no code of the package names that"}},
		{"npm: a workspace", `
-- package.json --
{ "name": "hill", "private": true, "workspaces": ["packages/*"], "dependencies": { "shared-sky": "1" } }
-- packages/desk/package.json --
{ "name": "@hill/desk", "dependencies": { "@hill/sky": "*", "@hill/moon": "*" } }
-- packages/desk/src/a.ts --
import { sky } from '@hill/sky'
import { star } from '@hill/star'
import { all } from 'shared-sky'
import type { M } from './m'
-- packages/desk/src/m.ts --
export type M = number
-- packages/sky/package.json --
{ "name": "@hill/sky", "main": "src/index.ts" }
-- packages/sky/src/index.ts --
export const sky = 1
-- packages/star/package.json --
{ "name": "@hill/star", "main": "src/index.ts" }
-- packages/star/src/index.ts --
export const star = 1
-- packages/moon/package.json --
{ "name": "@hill/moon", "main": "src/index.ts" }
-- packages/moon/src/index.ts --
export const moon = 1
`, []string{"borrowed packages/desk/src/a.ts:2:23 it uses the package @hill/star, and packages/desk/package.json does not ask for that",
			"spare packages/desk/package.json:1:61 it asks for @hill/moon, and no code of the package names that"}},
		{"Dart", `
-- pubspec.yaml --
name: display
dependencies:
  http: ^1.0.0
  sky_data: any
  flutter: { sdk: flutter }
dev_dependencies:
  lints: any
  test: any
-- lib/display.dart --
import 'dart:io';
import 'package:display/src/a.dart';
import 'package:sky_data/sky_data.dart';
import 'package:collection/collection.dart';
-- lib/src/a.dart --
const a = 1;
-- test/a_test.dart --
import 'package:test/test.dart';
`, []string{"borrowed lib/display.dart:4:9 it uses the package collection, and pubspec.yaml does not ask for that",
			"spare pubspec.yaml:3:3 it asks for http, and no code of the package names that"}},
		{"Rust", `
-- Cargo.toml --
[package]
name = "dome"
edition = "2021"
[dependencies]
serde = { version = "1", features = ["derive"] }
log = "0.4"
star-names = "1"
thiserror = "1"
once = { package = "once_cell", version = "1" }
maybe = { version = "1", optional = true }
[dependencies.unused-crate]
version = "1"
[dev-dependencies]
checks = "1"
-- src/lib.rs --
use serde::Serialize;
#[derive(Serialize, thiserror::Error)]
pub struct Star;
/// ` + "```" + `
/// star_names::all();
/// ` + "```" + `
pub fn f() { log::info!("x"); let _ = ::once::sync::Lazy::new(|| 1); }
-- tests/a.rs --
use checks::check;
`, []string{"spare Cargo.toml:12:1 it asks for unused-crate, and no code of the package names that"}},
		{"Go", `
-- go.mod --
module hilltop.example/desk

go 1.24

require (
	hilltop.example/sky v1.0.0
	hilltop.example/moon v1.0.0
	hilltop.example/deep v1.0.0 // indirect
)
-- a.go --
package desk

import _ "hilltop.example/sky/rise"
`, []string{"spare go.mod:7:2 it asks for hilltop.example/moon, and no code of the package names that"}},
		{"a list of tools, without code", `
-- package.json --
{ "name": "tools", "dependencies": { "some-tool": "1" } }
-- README.md --
Tools.
`, []string{}},
		{"an exception", `
-- package.json --
{ "dependencies": { "unused-sky": "1" } }
-- src/a.ts --
export {}
-- exceptions --
`, nil},
	} {
		t.Run(row.name, func(t *testing.T) {
			t.Parallel()
			convention := "-- crooked.yaml --\ncrooked: 1\nshelves: { all: src/ }\n"
			if row.want == nil {
				convention += "exceptions: [{ file: package.json, rule: spare, because: a script of the desk loads it }]\n"
			}
			result := run(t, small(t, convention+row.tree), "check", "--format", "json")
			var said struct {
				Findings []struct{ Rule, Path, At, Reason string }
			}
			require.NoError(t, json.Unmarshal([]byte(result.out), &said), result.out)
			var got []string
			for _, f := range said.Findings {
				if f.Rule == "spare" || f.Rule == "borrowed" {
					got = append(got, f.Rule+" "+f.Path+":"+f.At+" "+f.Reason)
				}
			}
			assert.ElementsMatch(t, row.want, got)
			assert.Less(t, result.code, 2)
		})
	}
}

// A survey lists the packages, whom each uses, and where they use one another in a circle.
func TestSurveyOfPackages(t *testing.T) {
	t.Parallel()
	dir := small(t, `
-- Cargo.toml --
[workspace]
members = ["desk", "sky", "moon"]
-- desk/Cargo.toml --
[package]
name = "hill-desk"
[dependencies]
hill-sky = { path = "../sky" }
serde = "1"
-- desk/src/main.rs --
fn main() { hill_sky::rise(); }
-- sky/Cargo.toml --
[package]
name = "hill-sky"
[dependencies]
moon = { path = "../moon" }
-- sky/src/lib.rs --
pub fn rise() { moon::up() }
-- moon/Cargo.toml --
[package]
name = "moon"
[dev-dependencies]
hill-sky = { path = "../sky" }
-- moon/src/lib.rs --
pub fn up() {}
-- moon/tests/a.rs --
#[test]
fn a() { hill_sky::rise() }
`)
	said := run(t, dir, "survey").out // a circle by way of tests is none
	for _, line := range []string{
		"hill_desk  desk/Cargo.toml, 2 files, asks for 2 packages; uses hill_sky\n",
		"hill_sky  sky/Cargo.toml, 2 files, asks for 1 package; uses moon\n",
		"moon  moon/Cargo.toml, 3 files, asks for 1 package; uses hill_sky\n",
	} {
		assert.Contains(t, said, line)
	}
	require.NoError(t, os.WriteFile(filepath.Join(dir, "moon/src/lib.rs"), []byte("pub fn up() { hill_sky::rise() }\n"), 0o644))
	assert.Contains(t, run(t, dir, "survey").out, "uses hill_sky, in a circle\n")
}
