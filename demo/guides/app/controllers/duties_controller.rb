class DutiesController < ApplicationController
  def index
    @plan = DutyPlan.new
    render "duties/index"
  end
end
