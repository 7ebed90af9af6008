class NightsController < ApplicationController
  helper NightsHelper

  def index
    @lines = NightOffer.list(1)
  end

  def show
    @night = Night.find(params[:id])
  end

  def sky
    @night = Night.find(params[:id])
    @moon = Sky::Moon.new(@night.date)
    render :sky
  end
end
