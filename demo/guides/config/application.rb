require "rails"
require "active_record/railtie"
require "action_controller/railtie"
require "action_view/railtie"
require "action_mailer/railtie"
require "active_job/railtie"
require "rails/test_unit/railtie"

module Guides
  class Application < Rails::Application
    config.root = File.expand_path("..", __dir__)
    config.load_defaults 6.1
    config.autoload_paths << config.root.join("lib")
    config.eager_load_paths << config.root.join("lib")
    config.eager_load = false
    config.consider_all_requests_local = true
    config.secret_key_base = "made up for the demo"
    config.hosts.clear
    config.action_controller.allow_forgery_protection = false
    config.active_job.queue_adapter = :inline
    config.action_mailer.delivery_method = :test
    config.active_support.test_order = :sorted
    config.logger = Logger.new(IO::NULL)
  end
end
