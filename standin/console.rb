# frozen_string_literal: true

module Loomshuttle
  module Standin
    # What the simulated desk and stage have: the patch as the desk holds it, where the
    # microphones are really plugged, and the controls. Changes answer what is wrong or nil.
    class Console
      # Controls in dB: preamp gain and channel fader, common practice.
      GAIN_DB = (-12.0..60.0)
      FADER_DB = (-90.0..10.0)

      attr_reader :show, :gains_db, :faders_db, :mutes, :simulation

      # @param show [Show] the rig, and the patch to begin with
      def initialize(show)
        @show = show
        @gains_db = Hash.new(0.0)
        @faders_db = Hash.new(0.0)
        @mutes = Hash.new(false)
        @simulation = Simulation.new
      end

      # @return [Show] as it sounds: with plugs and lanes where they really are
      def sounding = @simulation.sounding(@show)

      # Sets another rig, input list and patch up: gear was carried in or out. Controls go on.
      #
      # @param staged [Show]
      def restage(staged)
        return "a stage needs a desk with a card" unless staged.rig.first_of("desk")&.family("card-send")

        locked = @simulation.of("locked").find { |channel| Show::GearSum.of(staged) == gear_sum && moved?(staged, channel) }
        return @simulation.locked(@show, locked) if locked

        @show = staged
        @simulation = @simulation.among(staged.rows, staged.rig)
        @checksum = nil
      end

      # What the desk is called on its stage.
      def name = @show.rig.first_of("desk").name

      # Lanes of the desk's card, each way.
      def card_lanes = @show.rig.first_of("desk").family("card-send").count

      # Sets a slot to exactly that take: block by block is how the sender thinks, slot by
      # slot is how a desk's memory is written.
      def slot(id, from, tap, delay_ms)
        locked = @simulation.locked(@show, id)
        return locked if locked

        take = Patch::Pick.new(from: from, tap: (tap unless tap.empty?), delay_ms: delay_ms.round(2)) unless from.empty?
        change(Edits::Restore.new(slots: {id => take}))
      end

      def plug(row, socket) = change(Edits::Plug.new(row: row, socket: socket.empty? ? nil : socket))
      def route(channel, mix, tap, level_db) = change(Edits::SetSend.new(channel: channel, mix: mix, tap: tap, level_db: level_db.round(2)))
      def unroute(channel, mix) = change(Edits::SetSend.new(channel: channel, mix: mix, on: false))
      def turn(place, on) = @simulation.locked(@show, place) || change(Edits::Turn.new(places: [place], over: on == 1))
      def power(socket, on) = change(Edits::Power.new(sockets: [socket], on: on == 1))
      def gain(socket, db) = control(@gains_db, socket, db, GAIN_DB)
      def fader(channel, db) = control(@faders_db, channel, db, FADER_DB)

      def mute(channel, on)
        return "there is no #{channel}" unless @show.rig.present?(channel)

        @mutes[channel] = (on == 1)
        nil
      end

      # The band is silent, or plays again.
      def quiet(on)
        @simulation = @simulation.with(quiet: on == 1, tap: nil)
        nil
      end

      # The control line is cut, or whole again.
      def cut(on)
        @simulation = @simulation.with(cut: on == 1)
        nil
      end

      def tap(row)
        return "there is no source #{row}" unless @show.rows.key?(row)
        return "nobody can be heard tapping while the band plays" unless @simulation.quiet

        @simulation = @simulation.with(tap: Simulation::Tap.new(row))
        nil
      end

      def plant(kind, row, other)
        planted = @simulation.plant(@show, kind, row, other)
        return planted if planted.is_a?(String)

        @simulation = planted
        nil
      end

      # All of them with an empty kind.
      def unplant(kind, row)
        @simulation = kind.empty? ? @simulation.with(planted: [].freeze) : @simulation.without(kind, row)
        nil
      end

      # Computed once a state, so that asking for it costs the audio nothing.
      def checksum = @checksum ||= @show.patch.checksum
      def gear_sum = Show::GearSum.of(@show)

      private

      def change(edit)
        result = edit.apply(@show)
        return result.why if result.is_a?(Refusal)

        @show = result
        @checksum = nil
      end

      # Whether a channel would listen to something else.
      def moved?(staged, channel)
        [channel, @show.second_slot(channel)].compact.any? { |slot| staged.patch.slots[slot] != @show.patch.slots[slot] } || staged.turned?(channel) != @show.turned?(channel)
      end

      def control(values, id, db, range)
        return "there is no #{id}" unless @show.rig.present?(id)
        return "#{id}: #{db} dB is outside #{range.min} to #{range.max} dB" unless range.cover?(db)

        values[id] = db
        nil
      end
    end
  end
end
