class Night < ApplicationRecord
  SEATS = 12

  has_many :bookings, class_name: "Booking"

  def free = (seats || SEATS) - bookings.sum(:seats)
end
