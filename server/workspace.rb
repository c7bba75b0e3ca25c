# frozen_string_literal: true

module Loomshuttle
  module Server
    # One open show: what it is now, what is known beside it, and what is found in it.
    class Workspace
      # In steps of a minute of one track, so that what is known of the disk stays the same while nothing happens.
      DISK_STEP_BYTES = 60 * 48_000 * 3
      private_constant :DISK_STEP_BYTES

      attr_reader :id

      # @param shows [Store::Shows]
      # @param takes [Store::Takes]
      # @param running [RunningTake]
      # @param desk [DeskFollower]
      # @param disk [#call] => bytes free where takes are written, nil where nobody knows
      # @param linechecks, soundchecks [Store::Beside]
      # @param stems [StemFiles]
      def initialize(id, shows:, takes:, running:, desk:, disk:, linechecks:, soundchecks:, stems:)
        @id, @shows, @takes, @running, @desk, @disk, @linechecks, @soundchecks, @stems = id, shows, takes, running, desk, disk, linechecks, soundchecks, stems
        @beside = {}
      end

      # @return [Store::Shows::Kept]
      # @raise [BadInput] where there is no such show
      def kept = @shows.load(id)

      def show = kept.show

      # @raise [BadInput] where there is no such show
      def there! = @shows.there!(id)

      # How takes of the show are recorded.
      #
      # @return [Capture::Session]
      def session = @session ||= Loomshuttle::Capture::Session.from_h(@shows.session(id))

      # @param given [Hash] string keys; what is left out stays
      def keep_session(given)
        @shows.keep_session(id, @shows.session(id).merge(given))
        @session = nil
        session
      end

      # @return [String] of its takes, below the takes' folder; uid
      def place = @place ||= @shows.place(id).freeze

      # Bytes free where its takes are written.
      def free_bytes = @disk.call

      # Its takes, or how they are recorded, are others now.
      def forget
        @take_facts = @session = nil
        @beside = {}
      end

      # What is known beside the plan. As long as it is the same it is the very same value, so that
      # findings are worked out once.
      #
      # @return [Checks::Facts]
      def facts(kept)
        now = Checks::Facts.new(desk: @desk.drifted(kept), takes: @take_facts ||= @takes.facts(id), disk: disk_facts,
          engine: {recording: @running.heard_number(id), lanes_out: @running.lanes_out(id)},
          linecheck: beside(:linecheck, @linechecks, kept.show), soundcheck: beside(:soundcheck, @soundchecks, kept.show), stems: @stems.faults(id, kept.show))
        @facts = now unless @facts == now
        @facts
      end

      # @param kept [Store::Shows::Kept]
      # @return [Array<Checks::Finding>]
      def findings(kept = self.kept) = Checks::All.findings(kept.show, facts(kept))

      private

      # What somebody found out beside the plan, read once and worked out once a show.
      def beside(name, store, show)
        known = @beside[name] ||= {state: store.of(id).state}
        known.update(show: show, facts: known[:state].facts(show)) unless known[:show].equal?(show)
        known[:facts]
      end

      def disk_facts
        free = free_bytes or return nil
        how = session
        {free_bytes: free - free % DISK_STEP_BYTES, margin_bytes: how.margin_bytes, sample_bytes: how.sample_bytes, planned_s: how.planned_s}
      end
    end
  end
end
