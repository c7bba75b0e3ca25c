# frozen_string_literal: true

module Loomshuttle
  module Linecheck
    # The first thing to look at where a source was tapped and nothing arrived: what the plan itself lacks,
    # from the source onward, and only then what the plan cannot know.
    module Suspect
      module_function

      # @return [String]
      def of(show, row)
        way = Way.of(show, row)
        return "The plan has it plugged in nowhere." unless way.socket
        return "#{show.label(way.socket)} is laid to no lane of the recorder, so nothing can be heard of it here." if way.lanes.empty?
        return "Phantom power is off at #{show.label(way.socket)}, and it wants it." if show.rows[row].phantom == "yes" && !show.patch.powered.include?(way.socket)

        "The plan's way is whole, from #{show.label(way.socket)} to #{Words::Runs.plural("lane", way.lanes)} #{Words::Runs.text(way.lanes)}: look at the cable, the microphone's own switch and the preamp."
      end
    end
  end
end
