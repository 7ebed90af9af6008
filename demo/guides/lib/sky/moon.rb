require "date"

module Sky
  # How much of the moon is lit, roughly.
  class Moon
    MONTH = 29.53

    def initialize(date) = @date = date

    def lit = 0.5 - 0.5 * Math.cos((@date.jd - 2_451_550) % MONTH / MONTH * 2 * Math::PI)

    def dark? = lit < 0.5
  end
end
