# frozen_string_literal: true

module Loomshuttle
  module Deck
    # What is paused, or stands ready for Go: it uses no lane, lies ready where it is, and is kept for a deck that is
    # started again. Read by any thread, changed by one.
    #
    #   standing = Standing.new(memory) { |request, position| ready }
    #   standing.hold(request, 48_000, 480_000)
    #   standing.change("do" => "locate", "frame" => 0)
    class Standing
      # ready  Player::Ready; nil where it could not be made, which says so when it is to go on
      Held = Struct.new(:request, :position, :length_frames, :ready) do
        def label = request["label"]
        def key = request["key"]
      end

      # @return [Held, nil]
      attr_reader :held

      # @param memory [Memory]
      # @yield [Hash, Integer] DeckPlay and position => Player::Ready
      # @yieldraise [BadInput]
      def initialize(memory, &make)
        @memory, @make = memory, make
      end

      # @param request [Hash] DeckPlay
      # @param length_frames [Integer] of all of it
      def hold(request, position, length_frames)
        let_go
        @memory.keep_paused(request, position, length_frames)
        made = begin
          @make.call(request, position)
        rescue BadInput
          nil
        end
        @held = Held.new(request, position, length_frames, made)
      end

      # @param ready [Player::Ready] it lies ready already
      def stand(request, ready)
        @memory.keep_paused(request, ready.position, ready.program.length_frames)
        @held = Held.new(request, ready.position, ready.program.length_frames, ready)
      end

      # It goes on: what lay ready is the player's.
      def given = @held = nil

      def let_go
        @held&.ready&.close
        @held = nil
      end

      # Holds when it goes on.
      #
      # @param request [Hash] of the contract: jump, locate, loop, gain, mute or solo
      def change(request)
        now = held.request
        case request["do"]
        when "jump" then at([request["frame"] || held.position, held.length_frames - 1].min)
        when "locate" then at([request["frame"], held.length_frames - 1].min)
        when "loop" then at(held.position, "loop" => request["loop"])
        when "gain" then at(held.position, "gains_db" => {**now.fetch("gains_db", {}), **request["gains_db"]})
        when "mute" then at(held.position, "muted" => request["keys"])
        when "solo" then at(held.position, "solo" => request.slice("key", "lanes"))
        end
      end

      # @param requests [Array<Hash>] DeckPlay that are played after it
      def queue(requests)
        held.request["queue"] = requests
        @memory.keep_paused(held.request, held.position, held.length_frames)
      end

      # What has not begun yet may still be another tempo, arrangement or level; what was muted stays so.
      #
      # @param request [Hash] DeckPlay
      def anew(request)
        before = held.request
        return unless held.position.zero? && request["key"] == before["key"] && request != before.slice(*request.keys)

        hold(before.slice("gains_db", "muted").merge(request), 0, held.length_frames)
        made = held.ready&.program or return
        held.length_frames = made.length_frames
      end

      private

      def at(position, changed = {}) = hold(held.request.merge(changed), position, held.length_frames)
    end
  end
end
