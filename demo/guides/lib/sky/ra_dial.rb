module Sky
  # The dial for right ascension.
  class RADial
    def turn(hours) = hours % 24
  end
end
