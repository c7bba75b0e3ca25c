# frozen_string_literal: true

module Loomshuttle
  module Deck
    # What plays from which device frame on.
    #
    # program   Render::Program, nil for silence
    # at_frame  device frame at which position sounds
    # position  of the program
    # lead      what is rendered of it already, [lanes, frames] from its position on; nil for nothing
    Cue = Struct.new(:program, :at_frame, :position, :lead) do
      def position_at(frame) = position + frame - at_frame

      # @param renderer [Render::Renderer]
      # @return [Numo::SFloat, nil] [lanes, count] from a device frame on; nil where it is silence
      def samples(renderer, frame, count)
        return nil unless program

        from = position_at(frame)
        return led(from, count) || renderer.block(program, from, count) if from >= 0

        # Before its beginning there is silence.
        silent = [-from, count].min
        Numo::SFloat.zeros(renderer.lanes, count).tap { |out| out[true, silent...count] = renderer.block(program, 0, count - silent) if silent < count }
      end

      private

      # @return [Numo::SFloat, nil] nil where more is asked for than is rendered
      def led(from, count)
        at = from - position
        lead[true, at...(at + count)] if lead && at >= 0 && at + count <= lead.shape[1]
      end
    end
  end
end
