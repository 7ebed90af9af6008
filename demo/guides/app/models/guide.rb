class Guide < ApplicationRecord
  has_many :bookings

  def speaks?(language) = languages.split(",").include?(language)
end
