class NightOffer
  Line = Struct.new(:night, :price)

  def self.list(seats)
    Night.order(:date).map { |night| Line.new(night, NightPrice.new(night, seats).total) }
  end
end
