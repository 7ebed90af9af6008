# What a night costs, in whole coins.
class NightPrice
  class << self
    attr_accessor :base
  end

  def initialize(night, seats)
    @night = night
    @seats = seats
  end

  def total = self.class.base * @seats
end
