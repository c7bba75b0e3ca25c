# frozen_string_literal: true

module Loomshuttle
  module Capture
    # What the engine needs to know to record a take; all of it stands in the take's journal,
    # so that the disk alone is enough to go on with it.
    #
    # uid        never changes, whatever the take is called
    # show       name of the show's folder; show_uid is the show's own, show_id (journals up to November 2026)
    #            its number in the database of then
    # folder     of the take, which the engine chooses, below the takes' folder, e.g. "lanterns/take-004"
    # encoding   "pcm24" or "float32"
    # copy       a second place: its folder, nil for none
    # preroll_s  seconds from before Record was pressed
    # carry_on   whether it goes on by itself when device or engine come back
    # margin_bytes  that are left free on each disk
    # from_frame  device frame to begin with exactly, for an overdub; nil for now
    # length_frames  after which it ends by itself, nil for when somebody stops it
    # origin_samples  TimeReference of the first sample where it is known (an overdub), else nil
    # length_s   planned, nil where nobody knows
    TakePlan = Value.of(:uid, :number, :sample_rate_hz, :tracks, folder: "", name: "", notes: "", show: "", show_uid: nil, show_id: 0, encoding: "pcm24",
      copy: nil, preroll_s: 0, carry_on: true, margin_bytes: DiskBudget::MARGIN_BYTES, from_frame: nil, length_frames: nil, origin_samples: nil,
      utc_offset_s: 0, over: nil) do
      # @param given [Hash] string keys, checked by the contract
      def self.from_h(given)
        known = members.map(&:to_s) & given.keys
        new(**known.to_h { |name| [name.to_sym, given[name]] }, tracks: given["tracks"].map { |track| TrackPlan.from_h(track) })
      end

      # Whether all of it is what it should be, where no contract has looked at it: in a journal, which may be anybody's.
      def sound? = sound_words? && sound_numbers? && tracks.all?(&:sound?)

      def to_data = to_h.merge(tracks: tracks.map(&:to_h))

      # @return [BadInput, nil] what cannot be recorded with these lanes, all faults in one
      def fault(lanes_in)
        beyond = tracks.flat_map(&:lanes).reject { |lane| lane.between?(1, lanes_in) }
        return BadInput.new(field: "lane", value: beyond.uniq.join(", "), allowed: lanes_words(lanes_in)) if beyond.any?

        twice = tracks.map { |track| track.file.unicode_normalize(:nfc).downcase }.tally.select { |_, count| count > 1 }.keys
        BadInput.new(field: "file", value: twice.first, allowed: "a file name of its own for each track") if twice.any?
      end

      # Ports that were left in their two-lane mode are a classic lost hour.
      def lanes_words(lanes_in)
        (lanes_in == 2) ? "1 to 2: the interface shows two lanes only; set it to its many-lane mode" : "1 to #{lanes_in}"
      end

      def sample_bytes = DiskBudget.sample_bytes(encoding)

      private

      def sound_words?
        [uid, folder, name, notes, show].all?(String) && [copy, show_uid, over].compact.all?(String) && TakePlan::ENCODINGS.include?(encoding) &&
          folder.split("/").all? { |part| FileName.plain?(part) }
      end

      def sound_numbers?
        [number, sample_rate_hz].all? { |count| count.is_a?(Integer) && count.between?(0, 2**31 - 1) } && sample_rate_hz.positive? &&
          [preroll_s, margin_bytes, utc_offset_s].all?(Numeric) && [from_frame, length_frames, origin_samples].compact.all?(Integer)
      end
    end

    class TakePlan
      ENCODINGS = %w[pcm24 float32].freeze
      # A take that stood still for longer is not gone on with by itself.
      CARRY_ON_S = 3600
    end
  end
end
