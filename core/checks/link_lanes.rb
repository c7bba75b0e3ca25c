# frozen_string_literal: true

module Loomshuttle
  module Checks
    # A patched lane does not exist in the link at this sample rate.
    module LinkLanes
      module_function

      def findings(show)
        LostLanes.of(show).reject { |loss| LostLanes.by_mode?(show, loss) }.map { |loss| finding(show, loss) }
      end

      def finding(show, loss)
        device, port = loss.way.sender, loss.way.out
        khz = (show.sample_rate_hz / 1000.0).to_s.delete_suffix(".0")
        Finding.new(rule: "link-lanes",
          severity: "stop",
          step: "rig",
          title: "#{Words::Runs.plural("Lane", loss.lost)} #{Words::Runs.of(loss.lost)} of #{device.name} #{port.label} #{(loss.lost.size == 1) ? "arrives" : "arrive"} nowhere",
          what: "#{limit(loss, khz)}; #{Words::Runs.plural("lane", loss.lost)} #{Words::Runs.of(loss.lost)} (#{Words::Runs.names(LostLanes.sources(show, loss))}) would need more.",
          about: {lanes: loss.arriving},
          why: "What is patched there arrives nowhere.",
          endpoints: loss.cable.ends + loss.lost)
      end

      def limit(loss, khz)
        return "#{loss.way.receiver.name} #{loss.way.into.name} takes #{Words::Runs.count(loss.way.room, "lane")}" if loss.by_receiver?

        "At #{khz} kHz this #{loss.way.out.standard} link carries #{Words::Runs.count(loss.lanes, "lane")}"
      end
      private_class_method :finding, :limit
    end
  end
end
