class GuideRoster
  def initialize(guides = Guide.all) = @guides = guides

  def pick(language)
    @guides.select { |guide| guide.speaks?(language) }.min_by { |guide| guide.bookings.size }
  end

  def to_s
    <<~TEXT
      On duty:
        #{@guides.map(&:name).join(", ")}
    TEXT
  end
end
