# frozen_string_literal: true

module Loomshuttle
  module Checks
    # A desk with a second set of channel inputs: a channel whose second slot would not bring
    # its own track, found on the day before it is switched.
    module SecondSet
      module_function

      def findings(show)
        return [] if show.rig.all_of("desk").none? { |desk| made?(show, desk) }

        show.rig.by_device(Signal::Sources.returns(show)) { |channel, _| channel }.filter_map do |desk, returns|
          next unless made?(show, desk)

          wrong = Endpoint.sorted(returns.select { |channel, lane| wrong?(show, channel, lane) }.map(&:first))
          finding(show, desk, wrong) if wrong.any?
        end
      end

      # A wholly empty second set is one that nobody has made yet; a swing makes it.
      def made?(show, desk)
        second = desk.profile.second
        !second.nil? && show.places(desk, second).any? { |slot| show.patch.slots.key?(slot) }
      end

      def wrong?(show, channel, lane) = taken(show, channel) != lane && !show.swung.keep.include?(channel)
      def taken(show, channel) = show.patch.slots[show.second_slot(channel)]&.from

      def finding(show, desk, channels)
        takes = channels.map { |channel| taken(show, channel)&.then { |id| show.label(id) } || "nothing" }.uniq
        Finding.new(rule: "second-set",
          severity: "warn",
          step: "soundcheck",
          title: "Not every second input of #{desk.name} is on the recorder",
          what: "#{Words::Runs.plural("Channel", channels)} #{Words::Runs.of(channels)} would take #{takes.first(6).join(", ")} there, not #{(channels.size == 1) ? "its own track" : "their own tracks"}.",
          why: "After the switch these play something else, or stay silent.",
          endpoints: channels,
          mend: mend(show, channels))
      end

      def mend(show, channels)
        returns = Signal::Sources.returns(show)
        Soundness.mend(show, "Mend: lay channel #{Words::Runs.of(channels)} on their return lanes",
          channels.map { |channel| Edits::Connect.new(slot: show.second_slot(channel), from: returns[channel]) })
      end
      private_class_method :made?, :wrong?, :taken, :finding, :mend
    end
  end
end
