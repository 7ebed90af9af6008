require "test_helper"

class BookingsControllerTest < ActionDispatch::IntegrationTest
  test "a night is booked" do
    one = night
    post night_bookings_path(one), params: { visitor: "A visitor", seats: 2 }
    follow_redirect!
    assert_includes response.body, "Your night is booked"
    assert_includes response.body, "80 coins"
  end

  test "a full night is shown again" do
    one = night
    post night_bookings_path(one), params: { visitor: "A visitor", seats: 5 }
    assert_redirected_to "/nights/#{one.id}"
  end

  test "who is on duty" do
    get "/duty"
    assert_includes response.body, "Guides on duty"
  end
end
