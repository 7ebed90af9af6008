class GuideMailer < ActionMailer::Base
  default from: "desk@hilltop.example"

  def remind(booking)
    @booking = booking
    mail to: "guide@hilltop.example", subject: "A dark night"
  end
end
