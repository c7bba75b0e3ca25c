# frozen_string_literal: true

module Loomshuttle
  module Server
    # Who asks: this machine, which may do everything, or a device that was let in, with what it may do.
    class Visitor < Value.of(:name, :may, device: nil)
      # What one may do, each beside all before it: look; line check, marks and levels; patch, record, play
      # and swing; everything, letting others in and deleting.
      MAY = %w[look stage operate lead].freeze
      # The same in the words of a sentence that begins "may".
      WORDS = {"look" => "only look", "stage" => "check lines and mark", "operate" => "patch, record, play and swing", "lead" => "do everything"}.freeze
      # Operations for whoever comes, let in or not.
      ANYONE = "anyone"
      # Where the request's visitor is kept in its environment; nil for a device that was not let in.
      KEY = "loomshuttle.visitor"

      # Whoever sits at this machine.
      HERE = new(name: "", may: "lead")

      # @param wanted [String] x-may of an operation
      # @return [Boolean]
      def may?(wanted) = wanted == ANYONE || MAY.index(wanted) <= MAY.index(may)
    end
  end
end
