require "sky/moon"

# Books seats of a night, and finds a guide for them.
class BookNight
  class Full < StandardError; end

  def initialize(night, guides: GuideRoster.new)
    @night = night
    @guides = guides
  end

  def call(visitor:, seats:, language: "en")
    raise Full if @night.free < seats

    booking = Booking.create!(night: @night, visitor: visitor, seats: seats, guide: @guides.pick(language))
    RemindGuideJob.perform_later(booking) if booking.guide && Sky::Moon.new(@night.date).dark?
    booking
  end
end
