# frozen_string_literal: true

module Loomshuttle
  module Soundcheck
    # When the files of a recording made elsewhere begin, by the time of day that they carry: BWF's TimeReference, in
    # samples since midnight (EBU Tech 3285).
    #
    #   Starts.of([{name: 1, sample_rate_hz: 48_000, time_reference: 96_000}, ...], 48_000)   # => {1 => 0, 2 => 480}
    module Starts
      # What lies further apart is no one recording.
      APART_S = 6 * 3600
      private_constant :APART_S

      module_function

      # @param files [Array<Hash>] time_reference nil where a file tells none
      # @param rate_hz [Integer] of the show
      # @return [Hash{Object => Integer}] frames at that rate after the first of them; all begin together where not every one
      #   tells, or where they cannot be of one recording
      def of(files, rate_hz)
        return files.to_h { |file| [file[:name], 0] } if files.empty? || files.any? { |file| file[:time_reference].nil? }

        at = files.to_h { |file| [file[:name], Rational(file[:time_reference], file[:sample_rate_hz])] }
        first, last = at.values.minmax
        return at.transform_values { 0 } if last - first > APART_S

        at.transform_values { |seconds| ((seconds - first) * rate_hz).round }
      end
    end
  end
end
