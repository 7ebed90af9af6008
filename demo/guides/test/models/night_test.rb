require "test_helper"

class NightTest < ActiveSupport::TestCase
  test "a night without bookings has all its seats" do
    assert_equal 4, night.free
    assert_equal 12, Night.new.free
  end
end
