# frozen_string_literal: true

module Loomshuttle
  module Signal
    # The computer that the engine records, and its lanes in.
    #
    #   Recorder.place(show, 9)   # => "rec/lane-in/9"
    module Recorder
      # What is sent there from several channels.
      MIXES = %w[bus main matrix].freeze
      private_constant :MIXES

      module_function

      # The engine records one: that of the first track with a lane, as Capture::Session has it, else the first
      # there is.
      #
      # @return [String, nil] its id
      def of(show)
        recorded = show.tracks.each_value.find { |track| show.patch.slots.key?(track.place) }
        recorded&.recorder || show.rig.devices.each_key.find { |id| show.rig.present?(Endpoint.id(id, "lane-in", 1)) }
      end

      # @param lane [Integer] from 1
      # @return [String, nil] id of its place of that lane
      def place(show, lane)
        recorder = of(show)
        recorder && Endpoint.id(recorder, "lane-in", lane).then { |id| id if show.rig.present?(id) }
      end

      # @return [Array<Integer>] its lanes in
      def lanes(show) = show.once(:recorder_lanes) { (1..).lazy.take_while { |lane| place(show, lane) }.to_a.freeze }

      # @return [Hash{Integer => String}] lanes that carry a mix, the printed main mix first of all, and that mix
      def mixes(show)
        show.once(:recorder_mixes) do
          lanes(show).to_h { |lane| [lane, show.graph.line_back(place(show, lane)).last] }.select { |_, from| MIXES.include?(show.rig.kind_of(from)) }.freeze
        end
      end
    end
  end
end
