class Night
  SIZE = 1
  class Hour; end
end

module Sky
  SIZE = 2
  class Night
    SIZE = 3
  end

  module Named
    NAME = "named"
  end

  class Body
    include Named
    KIND = :body
    class Part; end
  end
end
