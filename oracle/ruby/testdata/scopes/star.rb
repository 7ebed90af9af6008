module Sky
  class Star < Body
    def all = [Night, ::Night, Sky::Night, Night::SIZE, ::Night::SIZE, SIZE, KIND, NAME, Part, Body::Part, ::Night::Hour]
  end
end

class Sky::Moon < Sky::Body
  def all = [Night, Sky::SIZE, KIND, Part]
end

module Sky
  module Deep
    class ::Outer
      def all = [Night, Body]
    end

    class Inner < Star
      SIZE = 4
      def all = [SIZE, Star::SIZE, Deep, Part]
    end
  end
end
