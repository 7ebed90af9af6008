ActiveSupport::Inflector.inflections(:en) do |inflect|
  inflect.acronym "RA"
end
