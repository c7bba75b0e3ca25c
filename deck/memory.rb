# frozen_string_literal: true

module Loomshuttle
  module Deck
    # What plays and since which device frame, in a small file: a deck that is started again
    # goes on from it.
    class Memory
      def initialize(path)
        @path = path
      end

      # @param request [Hash] DeckPlay
      def keep(request, at_frame, position)
        @kept = {"request" => request.except("at_frame", "until_s", "instead_of"), "at_frame" => at_frame, "position" => position}
        write
      end

      # @param length_frames [Integer] of all of it
      def keep_paused(request, position, length_frames)
        @kept = {"request" => request, "paused" => true, "position" => position, "length_frames" => length_frames}
        write
      end

      # Nothing plays: what comes next begins by itself.
      #
      # @param queue [Array<Hash>] DeckPlay
      # @param due [Integer] device frame
      def keep_waiting(queue, due)
        @kept = {"request" => {"queue" => queue}, "waiting" => true, "at_frame" => due}
        write
      end

      # @param more [Hash] what of the request is another by now
      def change(at_frame, position, more = {})
        return unless @kept

        keep(@kept["request"].merge(more), at_frame, position)
      end

      def forget
        @kept = nil
        FileUtils.rm_f(@path)
      end

      # @return [Hash, nil] nil where nothing is kept, or what a power cut left of it says nothing
      def kept
        @kept ||= JSON.parse(File.read(@path)).then { |data| data if whole?(data) }
      rescue SystemCallError, JSON::ParserError
        nil
      end

      private

      def whole?(data)
        return false unless data.is_a?(Hash) && data["request"].is_a?(Hash)

        queue, numbers = data["request"].fetch("queue", []), data["paused"] ? %w[position length_frames] : ["at_frame", *("position" unless data["waiting"])]
        queue.is_a?(Array) && queue.all?(Hash) && data.values_at(*numbers).all?(Integer)
      end

      def write
        File.write("#{@path}.new", JSON.generate(@kept))
        File.rename("#{@path}.new", @path)
      end
    end
  end
end
