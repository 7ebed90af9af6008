class DutyReport
  TEMPLATE = File.expand_path("../../lib/sky/duty.txt", __dir__)

  def initialize(roster) = @roster = roster

  def text = File.read(TEMPLATE) + @roster.to_s
end
