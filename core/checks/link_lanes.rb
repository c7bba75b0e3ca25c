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
        device, port = show.rig.port(loss.cable.a)
        khz = (show.sample_rate_hz / 1000.0).to_s.delete_suffix(".0")
        Finding.new(rule: "link-lanes",
          severity: "stop",
          step: "rig",
          title: "#{Words::Runs.plural("Lane", loss.lost)} #{Words::Runs.of(loss.lost)} of #{device.name} #{port.name} are not there".sub(/(Lane \S+ .*) are not/, '\1 is not'),
          what: "At #{khz} kHz this #{port.standard} link carries #{loss.lanes} lanes; #{Words::Runs.plural("lane", loss.lost)} #{Words::Runs.of(loss.lost)} (#{LostLanes.sources(show, loss).first(6).join(", ")}) would need more.",
          why: "What is patched there arrives nowhere.",
          endpoints: [loss.cable.a, *loss.lost])
      end
      private_class_method :finding
    end
  end
end
