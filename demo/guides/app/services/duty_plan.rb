class DutyPlan
  def initialize(roster: GuideRoster.new, report: DutyReport) = (@roster, @report = roster, report)

  def text = @report.new(@roster).text
end
