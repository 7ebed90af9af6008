class Booking < ApplicationRecord
  include Numbered

  belongs_to :night
  belongs_to :guide, optional: true

  validates :seats, inclusion: { in: 1..Night::SEATS }
end
