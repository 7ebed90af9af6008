class BookingsController < ApplicationController
  def create
    night = Night.find(params[:night_id])
    booking = BookNight.new(night).call(visitor: params[:visitor], seats: params[:seats].to_i)
    redirect_to night_booking_path(night, booking), notice: t(".done")
  rescue BookNight::Full
    redirect_to controller: "nights", action: "show", id: night.id
  end

  def show
    @booking = Booking.find(params[:id])
  end
end
