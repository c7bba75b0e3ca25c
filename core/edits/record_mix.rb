# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Prints the main mix: patches both sides of it to two spare lanes of the card, or takes those that
    # carry it already, and makes a track of each. Where lanes move in blocks and take no mix, it goes by way of two outputs that are
    # free or carry it already.
    class RecordMix < Edit.of("record_mix", desk: :id, computer: :id)
      def apply(show)
        gear = [[desk, "desk"], [computer, "computer"]].find { |id, kind| show.rig.devices[id]&.profile&.kind != kind }
        return Refusal.of(gear[1], gear[0], show.rig.all_of(gear[1]).map(&:id).join(", "), "There is no #{gear[1]} #{gear[0]}.") if gear
        return Refusal.of("desk", desk, "a mix that no track records yet", "The main mix is recorded already.") if recorded?(show)

        way = ways(show).first or return Refusal.of("desk", desk, "two spare lanes of the card beside each other, and tracks there",
          "There are no two spare lanes beside each other that could take the main mix#{", with two free outputs on its way" unless direct?(show)}.")
        tracked(show, way)
      end

      # Lanes of the card (from 1, the first of two), and which slot takes what for it.
      Way = Value.of(:lane, :takes)
      private_constant :Way

      private

      SIDES = %w[L R].freeze
      private_constant :SIDES

      def mains = SIDES.each_index.map { |side| Endpoint.id(desk, "main", side + 1) }
      def recorded?(show) = mains.any? { |main| show.graph.onward(main).any? { |edge| show.track_at(edge.to) } }
      def direct?(show) = show.rig.field_of(sends(show).first).takes?("main")
      def sends(show) = show.places(show.rig.devices[desk], "card-send")

      # The highest lanes first: the low ones are where sources are looked for.
      def ways(show)
        lanes = spare(show)
        carried = carrying(show)
        return carried if carried.any?

        direct?(show) ? lanes.lazy.map { |lane| Way.new(lane: lane, takes: mains.each_with_index.map { |main, side| [send(lane + side), main] }) } : through_outputs(show, lanes)
      end

      def carrying(show)
        numbers = sends(show).map { |id| Endpoint.parse(id).number }
        there = numbers.select { |lane| mains.each_with_index.all? { |main, side| no_track?(show, lane + side) && show.graph.line_back(send(lane + side)).include?(main) } }
        there.map { |lane| Way.new(lane: lane, takes: []) }
      end

      def send(lane) = Endpoint.id(desk, "card-send", lane)

      def spare(show)
        known = sends(show).map { |id| Endpoint.parse(id).number }
        known.select { |lane| lane.odd? && known.include?(lane + 1) && [lane, lane + 1].all? { |one| free?(show, one) } }.reverse
      end

      # Its slot takes nothing, nor does anything that moves with it, and no track is there.
      def free?(show, lane)
        no_track?(show, lane) && Patch::Block.slots(show, send(lane)).all? { |slot| show.patch.slots[slot].nil? }
      end

      def no_track?(show, lane)
        track = Endpoint.id(computer, "track", lane)
        show.rig.present?(track) && show.track_at(track).nil? && show.patch.slots[track].nil?
      end

      def through_outputs(show, lanes)
        outputs = show.places(show.rig.devices[desk], "output").map { |id| Endpoint.parse(id).number }
        pairs = outputs.select { |one| one.odd? && outputs.include?(one + 1) }
        lanes.lazy.flat_map do |lane|
          pairs.select { |pair| same_place?(show, lane, pair) }.sort_by { |pair| carries?(show, pair) ? 0 : 1 }.filter_map { |pair| through(show, lane, pair) }
        end
      end

      def same_place?(show, lane, pair)
        size = Patch::Block.slots(show, send(lane)).size
        (lane - 1) % size == (pair - 1) % size
      end

      def output(number) = Endpoint.id(desk, "output", number)
      def carries?(show, pair) = mains.each_with_index.all? { |main, side| show.patch.slots[output(pair + side)]&.from == main }

      def through(show, lane, pair)
        return unless carries?(show, pair) || [pair, pair + 1].all? { |one| show.patch.slots[output(one)].nil? }

        to_outputs = carries?(show, pair) ? [] : mains.each_with_index.map { |main, side| [output(pair + side), main] }
        Way.new(lane: lane, takes: [*to_outputs, [send(lane), output(pair)]])
      end

      def tracked(show, way)
        lanes = SIDES.each_index.map { |side| [Endpoint.id(computer, "track", way.lane + side), Endpoint.id(computer, "lane-in", way.lane + side)] }
        patched = [*way.takes, *lanes].reduce(show) do |now, (slot, from)|
          now.is_a?(Refusal) ? now : Connect.new(slot: slot, from: from).apply(now)
        end
        return patched if patched.is_a?(Refusal)

        made = lanes.each_with_index.to_h { |(slot, _), side| Ids.fresh("track-", mains[side], slot, taken: show.tracks).then { |id| [id, Capture::Track.new(id: id, place: slot, name: "Main #{SIDES[side]}", armed: true)] } }
        after = patched.with(tracks: patched.tracks.merge(made).sort_by { |_, track| track.number }.to_h.freeze)
        arrives?(after, made.values) ? after : Refusal.of("computer", computer, "a computer that the card's lanes arrive at", "No lane of the card arrives at #{show.rig.devices[computer].name}: lay the cable first.")
      end

      def arrives?(show, tracks) = tracks.zip(mains).all? { |track, main| show.graph.line_back(track.place).include?(main) }
    end
  end
end
