# frozen_string_literal: true

module Loomshuttle
  module Linecheck
    # A verdict in the words of the stage: what was found, and what to look at.
    #
    #   Said.of(show, "list/row/7", verdict)   # => ["It came in on lane 8.", "That is the place of 8 Overhead R: ..."]
    module Said
      LOOK = "Look at the cable's screen, the DI's ground lift and dimmers beside it."
      PARTNER = "Or nothing comes from it, and that one hears it from where it stands: go on, and tap that one."
      private_constant :LOOK, :PARTNER

      module_function

      # @param verdict [Verdict]
      # @return [Array<String>] first what was found, then each thing to do or to look at
      def of(show, row, verdict)
        case verdict.place
        when "right" then ["It came in on lane #{verdict.lane}, where it belongs.", *verdict.faults.map { |fault| fault(show, fault) }]
        when "elsewhere" then ["It came in on lane #{verdict.lane}.", elsewhere(show, row, verdict.lane) + (verdict.faults.any? ? " #{PARTNER}" : "")]
        when "nothing" then ["Nothing arrived.", Suspect.of(show, row)]
        else ["Skipped."]
        end
      end

      def elsewhere(show, row, lane)
        other, socket, own = Way.row_of(show, lane), Way.socket_of(show, lane), show.patch.plugs[row]
        return "The plan has nothing on that lane." unless socket
        return "That is #{place(show, socket)}; the plan has it plugged in nowhere." unless own
        return "That is #{place(show, socket)}, where the plan has nothing; it should be at #{place(show, own)}." unless other && other != row

        "That is the place of #{title(show, other)}. Plugs #{numbers(show, own, socket)} look swapped."
      end

      def fault(show, fault)
        case fault[:kind]
        when "clipped" then "It clipped: turn the preamp down."
        when "low" then "It is very low: turn the preamp up, and look at the pad."
        when "hum" then "It hums at #{fault[:hz]} Hz, #{fault[:over_db]} dB over the noise. #{LOOK}"
        when "polarity" then "Its polarity is opposite to #{title(show, fault[:row])}: turn one of the two round."
        when "alike" then "The same is on #{Words::Runs.plural("lane", fault[:lanes])} #{Words::Runs.text(fault[:lanes])} too, where the plan has something else."
        end
      end

      # @param hum [Hash] as State has it
      # @return [String]
      def humming(show, lane, hum)
        row = Way.row_of(show, lane)
        "Hum of #{hum[:hz]} Hz began on lane #{lane}#{" (#{title(show, row)})" if row}, #{hum[:level_dbfs].round} dBFS: it was not taken for a tap. #{LOOK}"
      end

      # @param since [Hash] as State has it
      # @return [String]
      def since(show, since)
        row = Way.row_of(show, since[:lane])
        "Since then something came in on lane #{since[:lane]}#{", where the plan has #{title(show, row)}" if row}. Whether it was tapped again or the next one was is not known: say how it goes on."
      end

      def title(show, row) = "#{show.rows[row]&.number} #{show.label(row)}".strip
      def place(show, socket) = show.label(socket)

      def numbers(show, one, other)
        return "#{Endpoint.number(one)} and #{Endpoint.number(other)} at #{show.rig.devices[Endpoint.parse(one).device].name}" if Endpoint.parse(one).device == Endpoint.parse(other).device

        "#{place(show, one)} and #{place(show, other)}"
      end
      private_class_method :elsewhere, :fault, :title, :place, :numbers
    end
  end
end
