require "test_helper"

class BookNightTest < ActiveSupport::TestCase
  test "a booking takes seats" do
    one = night
    booking = BookNight.new(one).call(visitor: "A visitor", seats: 3)
    assert_equal 1, one.free
    assert_equal format("H%04d", booking.id), booking.number
  end

  test "a night that is full takes nobody" do
    assert_raises(BookNight::Full) { BookNight.new(night).call(visitor: "A visitor", seats: 5) }
  end

  test "a guide is found by the language" do
    Guide.create!(name: "Ada of the hill", languages: "en,fr")
    assert_equal "Ada of the hill", BookNight.new(night).call(visitor: "A visitor", seats: 1, language: "fr").guide.name
  end
end
