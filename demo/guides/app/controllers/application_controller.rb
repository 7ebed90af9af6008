class ApplicationController < ActionController::Base
  rescue_from ActiveRecord::RecordNotFound do
    render "shared/missing", status: :not_found
  end
end
