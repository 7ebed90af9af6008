require "test_helper"

class DutyPlanTest < ActiveSupport::TestCase
  test "the plan has a head" do
    assert_match(/\AHilltop Observatory/, DutyPlan.new.text)
  end
end
