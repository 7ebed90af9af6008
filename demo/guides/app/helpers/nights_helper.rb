module NightsHelper
  def coins(amount) = "#{amount} coins"
end
