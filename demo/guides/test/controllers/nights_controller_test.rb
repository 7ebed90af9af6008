require "test_helper"

class NightsControllerTest < ActionDispatch::IntegrationTest
  test "nights are listed and shown" do
    one = night
    get "/"
    assert_includes response.body, "Nights at Hilltop"
    get night_path(one)
    assert_includes response.body, "Night of 2026-03-01"
    assert_includes response.body, "40 coins"
    get sky_path(one)
    assert_includes response.body, "1 h"
    get "/nights/999999"
    assert_response :not_found
  end

  test "where addresses lead" do
    assert_routing "/nights/7", controller: "nights", action: "show", id: "7"
  end
end
