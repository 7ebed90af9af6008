package cli_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"crookedshelf/internal/project/projecttest"
)

const roomsOfRuby = `
-- Gemfile --
gem "rails"
-- config/application.rb --
module Hill
  class Application; end
end
-- app/controllers/nights_controller.rb --
class NightsController < Base
  def chart = Chart.new(::Clock)
end
-- app/controllers/base.rb --
class Base; end
-- app/models/chart.rb --
class Chart; end
-- app/models/clock.rb --
class Clock
  include Ticking
end
-- app/models/ticking.rb --
module Ticking; def tick; end; end
-- app/models/row.rb --
class Row < Record; end
-- app/models/record.rb --
class Record; end
-- app/models/free.rb --
class Free
  require "json"
end
`

// What a convention asks of files is known of Ruby: what they declare, extend, include and require, and who needs them.
func TestWhatRubyDeclares(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	projecttest.Write(t, dir, roomsOfRuby+`-- crooked.yaml --
crooked: 1
pools:
  stuff: [app/models/**]
leave: { stay: [Gemfile, config/**, app/controllers/base.rb] }
shelves:
  pages: { at: app/controllers/<page>_controller.rb, takes: [{ name: "<page>_controller.rb", extends: Base }] }
  rows: { at: app/models/rows/, takes: [{ extends: Record, pool: stuff }] }
  ticking: { at: app/models/clocks/, takes: [{ marked: Ticking, pool: stuff }] }
  parts: { at: app/models/parts/, takes: [{ declares: type, pool: stuff }] }
  readers: { at: app/models/readers/, takes: [{ imports: json, pool: stuff }] }
  charts: { at: app/models/charts/<page>/, takes: [{ pool: stuff, needed_by: one of pages }] }
  rest: { at: app/models/, takes: [{ pool: stuff }] }
`)
	check := run(t, dir, "check")
	assert.Equal(t, 1, check.code, check.err)
	for from, to := range map[string]string{"row": "rows/row", "clock": "clocks/clock", "ticking": "parts/ticking",
		"free": "readers/free", "chart": "charts/nights/chart"} {
		assert.Regexp(t, `app/models/`+from+`\.rb +-> app/models/`+to+`\.rb`, check.out)
	}
	straightens(t, dir, map[string]string{
		"app/controllers/nights_controller.rb": "class NightsController < Base\n  def chart = Charts::Nights::Chart.new(::Clocks::Clock)\nend\n",
		"app/models/charts/nights/chart.rb":    "module Charts\n  module Nights\n    class Chart; end\n  end\nend\n",
		"app/models/clocks/clock.rb":           "module Clocks\n  class Clock\n    include Parts::Ticking\n  end\nend\n",
	})
}

// Whom a file of Ruby may use, and through which door: a constant that is found by its path is a use of its file.
func TestWhomRubyUses(t *testing.T) {
	t.Parallel()
	finds(t, roomsOfRuby+`-- crooked.yaml --
crooked: 1
leave: { stay: [Gemfile, config/**] }
shelves:
  pages: { at: app/controllers/, uses: [] }
  stuff: { at: app/models/, door: chart.rb }
`,
		"nights_controller.rb:2:15: overreach: pages may not use stuff, and it uses app/models/chart.rb",
		"nights_controller.rb:2:25: overreach: pages may not use stuff, and it uses app/models/clock.rb")
}

// What is wrong in Ruby is said with its place, and holds back what it must.
func TestBadRuby(t *testing.T) {
	t.Parallel()
	const moving = "-- Gemfile --\n-- config/application.rb --\n-- crooked.yaml --\ncrooked: 1\nleave: { stay: [\"*\", \"config/**\"] }\n" +
		"shelves: { new: { at: app/models/fresh/, from: [app/models/old/**] } }\n"
	rows := []badInput{
		{"a file that does not parse", "-- app/models/old/a.rb --\nclass Old::A\n  def b\nend\n", "line 1, column 1: what begins here has no end"},
		{"a string without an end", "-- app/models/old/a.rb --\nclass Old::A\n  B = \"c\nend\n", "line 2, column 7: what begins here has no end"},
		{"a template that is called as a program", "-- app/models/old/a.rb --\nclass <%= name %>\nend\n", "can't be read"},
		{"another constant than the path says", "-- app/models/old/a.rb --\nclass Old::B; end\n", "it does not define Old::A, as its path says"},
		{"two files for one constant", "-- app/models/old/a.rb --\nclass Old::A; end\n-- lib/x.rb --\n-- app/services/fresh/a.rb --\nclass Fresh::A; end\n", "app/services/fresh/a.rb defines Fresh::A too"},
		{"an acronym that is not declared", "-- app/models/old/api.rb --\nclass Old::API; end\n", "it defines API, and by the project's inflections its path is Api"},
		{"a folder that only the program knows", "-- app/models/old/a.rb --\nclass Old::A; end\n-- config/environment.rb --\nRails.autoloaders.main.push_dir(ENV[\"X\"])\n",
			"config/environment.rb:1: where constants are looked for is worked out here when the program runs"},
		{"names that are put together", "-- app/models/old/a.rb --\nclass Old::A; end\n-- app/models/old/b.rb --\nclass Old::B; end\n-- app/models/maker.rb --\n" +
			"class Maker; def x(y) = \"Old::#{y}\".constantize; end\n", "2 moves in 1 step, 3 rewrites"},
		{"names that are put together, and part", "-- app/models/old/a.rb --\nclass Old::A; end\n-- app/services/old/b.rb --\nclass Old::B; end\n-- app/models/maker.rb --\n" +
			"class Maker; def x(y) = \"Old::#{y}\".constantize; end\n", "leads to a set of files by \"Old\", and afterwards it would lead to others"},
	}
	for i := range rows {
		rows[i].files += moving
	}
	badInputs(t, rows, "plan")
}
