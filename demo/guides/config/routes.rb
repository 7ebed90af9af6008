Rails.application.routes.draw do
  root to: "nights#index"

  resources :nights, only: [:index, :show] do
    resources :bookings, only: [:create, :show]
  end

  get "/sky/:id", to: "nights#sky", as: :sky
  get "/duty" => "duties#index"
end
