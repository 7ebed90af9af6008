class RemindGuideJob < ApplicationJob
  def perform(booking)
    GuideMailer.remind(booking).deliver_now
  end
end
