ENV["RAILS_ENV"] = "test"
require_relative "../config/environment"
require "rails/test_help"

ActiveRecord::Schema.verbose = false
load Rails.root.join("db/schema.rb")

class ActiveSupport::TestCase
  def night(**given) = Night.create!(date: Date.new(2026, 3, 1), seats: 4, **given)
end
