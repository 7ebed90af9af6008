# What has a number that visitors see.
module Numbered
  extend ActiveSupport::Concern

  def number = format("H%04d", id)
end
