Rails.application.config.to_prepare do
  NightPrice.base = YAML.load_file(Rails.root.join("config", "prices.yml")).fetch("night")
end
