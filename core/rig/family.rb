# frozen_string_literal: true

module Loomshuttle
  module Rig
    # The numbered places of one kind on one device: its local sockets, its channels ...
    #
    # count    how many numbers a patch can name
    # present  how many of them this model really has (a compact body names 32 local
    #          sockets in its patch and has 16 on its back)
    # taps     where a signal can be taken from such a place, in signal order
    # kind     socket, lane, channel, feed (a second set), bus, main, matrix, output, track,
    #          listener
    # latency_samples  what a signal loses in time on its way through
    Family = Value.of(:name, :label, :count, :kind, present: nil, taps: [].freeze, prefixed: false, latency_samples: 0) do
      def there = present || count

      # Mixes are taken behind their fader unless one says otherwise, all else at its start.
      def default_tap = %w[bus main matrix].include?(kind) ? taps.last : taps.first
      def present?(number) = number.is_a?(Integer) && number.between?(1, there)
      def named?(number) = number.is_a?(Integer) && number.between?(1, count)
    end
  end
end
