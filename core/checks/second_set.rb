# frozen_string_literal: true

module Loomshuttle
  module Checks
    # A desk with a second set of channel inputs: a channel whose second slot would not bring
    # its own track, found on the day before it is switched.
    module SecondSet
      module_function

      def findings(show)
        wrong = Signal::Sources.returns(show).select { |channel, lane| wrong?(show, channel, lane) }
        wrong.keys.group_by { |channel| show.rig.device_of(channel) }.map { |desk, channels| finding(show, desk, channels) }
      end

      # An empty second set is one that nobody has made yet; a swing makes it.
      def wrong?(show, channel, lane)
        taken = show.second_slot(channel)&.then { |slot| show.patch.slots[slot]&.from }
        !taken.nil? && taken != lane && !show.swung.keep.include?(channel)
      end

      def finding(show, desk, channels)
        takes = channels.map { |channel| show.patch.slots[show.second_slot(channel)].from }
        Finding.new(rule: "second-set",
          severity: "warn",
          step: "soundcheck",
          title: "The second set of #{desk.name} is not all on the recorder",
          what: "#{Words::Runs.plural("Channel", channels)} #{Words::Runs.of(channels)} would take #{takes.map { |id| show.label(id) }.first(6).join(", ")} there, not #{(channels.size == 1) ? "its own track" : "their own tracks"}.",
          why: "After the switch these play something else, or stay silent.",
          endpoints: channels,
          mend: mend(show, channels))
      end

      def mend(show, channels)
        returns = Signal::Sources.returns(show)
        Mend.new(label: "Mend: lay channel #{Words::Runs.of(channels)} on their return lanes",
          edits: channels.map { |channel| Edits::Connect.new(slot: show.second_slot(channel), from: returns[channel]) })
      end
      private_class_method :wrong?, :finding, :mend
    end
  end
end
