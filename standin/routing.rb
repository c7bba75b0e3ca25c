# frozen_string_literal: true

module Loomshuttle
  module Standin
    # The console's state compiled to numbers for one block after another: which row of
    # the signal table each place takes. Made anew at every change, never in the block loop.
    #
    # The table has one row a signal: silence, musicians at their sockets, card returns,
    # channel inputs, channels behind the fader, mixes.
    class Routing
      # musician_gain and post_levels are nil where they would change nothing.
      attr_reader :channel_rows, :card_rows, :shown_rows, :heard_rows, :heard_ids, :musician_gain, :fader_gain, :pre_levels, :post_levels, :mix_ways, :musicians, :size

      # @param console [Console]
      # @param sounds [Stage::Sounds, nil] nil where nothing is ever simulated
      def initialize(console, sounds = nil)
        @show = console.sounding
        @desk = @show.rig.first_of("desk")
        @console = console
        lay_out
        @channel_rows = @channels.map { |id| row_of(@show.graph.back(id)&.from, nil) }
        @card_rows = places("card-send").map { |id| row_of(id, nil) }
        @heard_ids = @show.rig.listening
        @heard_rows = @heard_ids.map { |id| row_of(id, nil) }
        @shown_rows = [*(channels_at...faders_at), *(mixes_at...size), *@heard_rows]
        read_controls
        @stage = Stage.new(console.simulation, @show, @musicians, sounds) if sounds && !console.simulation.none?
      end

      # stage is nil where nothing is simulated: the band alone.
      attr_reader :channels, :mixes, :stage

      # First rows of each part of the table.
      def musicians_at = 1
      def returns_at = 1 + @rows.size
      def channels_at = returns_at + @returns
      def faders_at = channels_at + @channels.size
      def mixes_at = faders_at + @channels.size

      private

      def lay_out
        @rows = @show.rows.keys
        # With more sources than musicians some of them play the same.
        @musicians = @rows.each_index.map { |i| i % Band::MUSICIANS }
        @returns = @desk.family("card-return").count
        @channels = places("channel")
        @mixes = @desk.profile.mixes.flat_map { |family| places(family) }
        @size = mixes_at + @mixes.size
      end

      def places(family) = (1..@desk.family(family).count).map { |number| Endpoint.id(@desk.id, family, number) }

      # Walks back to the first place whose signal stands in the table.
      def row_of(id, tap)
        seen = Set.new
        while id && seen.add?(id)
          found = table_row(id, tap) and return found
          edge = @show.graph.to(id).first
          tap = edge&.tap || tap
          id = edge&.from
        end
        0
      end

      def table_row(id, tap)
        place = Endpoint.parse(id)
        return musicians_at + @rows.index(id) if place.device == "list"
        return returns_at + place.number - 1 if place.field == "#{@desk.id}/card-return"
        return ((tap == "post-fader") ? faders_at : channels_at) + place.number - 1 if place.field == "#{@desk.id}/channel"

        mix = @mixes.index(id)
        mix && mixes_at + mix
      end

      def read_controls
        gains_db = @rows.map { |row| @console.gains_db[@show.patch.plugs[row]] }
        @musician_gain = Numo::SFloat.cast(gains_db.map { |db| Audio::Scale.ratio(db) }).reshape(@rows.size, 1) if gains_db.any?(&:nonzero?)
        @fader_gain = Numo::SFloat.cast(@channels.map { |id| @console.mutes[id] ? 0.0 : fader(id) }).reshape(@channels.size, 1)
        @pre_levels, @post_levels = ["pre", "post-fader"].map { |kind| levels(kind) }
        @post_levels = nil if @post_levels.abs.max.zero?
        @mix_ways = mix_ways_through
      end

      # Mixes feed mixes: [mixes, mixes] of ratios by every way through them, or nil where
      # none does. Groups feed mains, mains feed matrices: three steps are all there are.
      def mix_ways_through
        direct = Numo::SFloat.cast(@mixes.map { |mix| @mixes.map { |from| level(from, mix, "any") } })
        return nil if direct.abs.max.zero?

        (1..3).inject([Numo::SFloat.eye(@mixes.size), Numo::SFloat.eye(@mixes.size)]) { |(sum, power), _|
          direct.dot(power).then do |next_power|
            [sum + next_power, next_power]
          end
        }.first
      end

      def fader(id) = Audio::Scale.ratio(@console.faders_db[id])

      # [mixes, channels] of amplitude ratios; a muted channel is silent at every tap.
      def levels(kind)
        Numo::SFloat.cast(@mixes.map { |mix| @channels.map { |channel| level(channel, mix, kind) } })
      end

      def level(channel, mix, kind)
        send = @show.patch.send_of(channel, mix)
        return 0.0 if send.nil? || @console.mutes[channel] || (kind != "any" && (send.tap == "post-fader") != (kind == "post-fader"))

        Audio::Scale.ratio(send.level_db)
      end
    end
  end
end
