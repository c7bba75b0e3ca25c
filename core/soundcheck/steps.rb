# frozen_string_literal: true

module Loomshuttle
  module Soundcheck
    # What a swing turns, as steps for whoever does it at a desk that has no control line: a block, a run of slots, or a
    # switch at a time.
    #
    #   Steps.of(before, after)   # => ["Set channels 1–8 to card returns 1–8.", "Switch the desk over to its second set."]
    module Steps
      module_function

      # @param before, after [Show]
      # @return [Array<String>] in the order in which they are safe: slots before switches on the way there
      def of(before, after)
        slots = desk_slots(before, after)
        [*opened(before, after), *runs(slots).map { |run| laid(after, run) }, *switched(before, after)]
      end

      def desk_slots(before, after)
        all = before.patch.slots.keys | after.patch.slots.keys
        changed = all.select { |slot| before.patch.slots[slot] != after.patch.slots[slot] && Patch::DeskSide.has?(after, slot) }
        Endpoint.sorted(changed).map { |slot| [slot, after.patch.slots[slot]&.from] }
      end

      # Slots one after the other that take places one after the other are one step.
      def runs(pairs)
        pairs.slice_when { |(slot, from), (next_slot, next_from)| !onward?(slot, next_slot) || !((from && next_from) ? onward?(from, next_from) : from == next_from) }
      end

      def onward?(one, other) = Endpoint.parse(one).then { |place| place.number.is_a?(Integer) && place.onward(1) == other }

      def laid(show, run)
        slots, taken = run.map(&:first), run.filter_map(&:last)
        taken.empty? ? "Take #{Words::Runs.places(show, slots)} off everything." : "Set #{Words::Runs.places(show, slots)} to #{Words::Runs.places(show, taken)}."
      end

      def opened(before, after)
        blocks = (after.patch.opened - before.patch.opened).select { |slot| Patch::DeskSide.has?(after, slot) }
        blocks.map { |slot| "Choose the sources of the block that begins with #{after.label(slot)} one by one." }
      end

      def switched(before, after)
        over, back = [after.patch.turned - before.patch.turned, before.patch.turned - after.patch.turned]
        [[over, "over to the second set"], [back, "back to the first set"]].flat_map do |places, where|
          desks, channels = places.partition { |id| after.rig.devices.key?(id) }
          [*desks.map { |id| "Switch #{after.rig.devices[id].name} #{where}." },
            *("Switch #{Words::Runs.channels(after, Endpoint.sorted(channels))} #{where}." if channels.any?)]
        end
      end
      private_class_method :desk_slots, :runs, :onward?, :laid, :opened, :switched
    end
  end
end
