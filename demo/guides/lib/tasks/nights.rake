desc "Prints what is offered"
task nights: :environment do
  NightOffer.list(1).each { |line| puts "#{line.night.date} #{line.price}" }
end
