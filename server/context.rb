# frozen_string_literal: true

module Loomshuttle
  module Server
    # What the actions work with: the stores, the lines to engine and desk, the browsers,
    # the data folder and the clock.
    class Context
      # @return [String, nil] why the desk did not follow the last edit
      attr_reader :desk_fault

      attr_reader :shows, :history, :templates, :takes, :alarms, :settings, :engine, :deck, :desk, :hub, :data_folder, :clock, :codec, :keeper, :feed

      def initialize(database:, codec:, data_folder:, engine_socket:, deck_socket:, osc_port:, clock: -> { Time.now })
        @codec = codec
        @shows = Store::Shows.new(database, codec)
        @history = Store::History.new(database)
        @templates = Store::Templates.new(database, codec)
        @takes = Store::Takes.new(database)
        @data_folder = data_folder
        @clock = clock
        @hub = Hub.new
        @desk = Links::DeskLink.new(port: osc_port)
        @alarms = Store::Alarms.new(database)
        @settings = Store::Settings.new(database)
        connect(engine_socket, deck_socket)
        @pushes = Thread::Queue.new
        @pushing = false
        Runtime::Loop.start("desk follower") { push_next }
        busy = -> { @pushing || @pushes.size.positive? }
        @watch = DeskWatch.new(@desk, busy: busy, plan: -> { plan&.patch }, stands: ->(gear) { stage_other(gear) }) { hub.publish("desk", known: true) }
      end

      def show_id = @show_id ||= shows.first_id

      # @return [Store::Shows::Kept]
      def kept = shows.load(show_id)

      # Tells every browser that the show changed, and lets the desk follow.
      #
      # @param before [Store::Shows::Kept]
      # @param after [Store::Shows::Kept]
      def announce(before, after)
        hub.publish("show", version: after.version)
        @planned = after.show
        @pushes << [before.show, after.show]
      end

      # What the desk has, where that is not what the plan says. While the desk is still
      # being told of edits nothing is known.
      #
      # @return [Patch::Scene, nil]
      def drifted(show)
        state = @watch.state
        state unless state.nil? || @pushing || @pushes.size.positive? || state.checksum == show.patch.checksum
      end

      # What is known beside the plan. As long as it is the same it is the very same value, so that
      # findings are worked out once.
      #
      # @return [Checks::Facts]
      def facts(kept)
        now = Checks::Facts.new(desk: drifted(kept.show), takes: takes.facts(kept.id), engine: engine_facts, disk: disk_facts)
        @facts = now unless @facts == now
        @facts
      end

      # @return [Array<Checks::Finding>]
      def findings(kept) = Checks::All.findings(kept.show, facts(kept))

      def takes_folder = File.join(data_folder, "takes")

      # @return [Integer, nil] bytes free where the takes are
      def free_bytes = Runtime::Disk.free_bytes(takes_folder)

      # How takes of the show are recorded.
      #
      # @return [Capture::Session]
      def session = Loomshuttle::Capture::Session.from_h(settings.read("session/#{show_id}"))

      # A running take, as the engine says it now. It is asked, not remembered: what it told last
      # is up to a twentieth of a second old, and somebody may just have pressed Stop.
      #
      # @return [Hash, nil] string keys; what was heard last where the engine does not answer
      def running_take
        raise Runtime::Gone.new("the audio engine", "it is silent") if engine.heard && !engine.answers?

        engine.ask({do: "status"}, seconds: 1)["recording"]
      rescue Runtime::Gone
        engine.last("status")&.fetch("recording", nil)
      end

      private

      # By what the engine told last: a page's findings wait for nobody.
      def engine_facts = {recording: engine.last("status")&.dig("recording", "take", "number")}

      # In steps of a minute of one track, so that the facts stay the same while nothing happens.
      def disk_facts
        free = free_bytes or return nil
        how = session
        {free_bytes: free - free % DISK_STEP_BYTES, margin_bytes: how.margin_bytes, sample_bytes: how.sample_bytes, planned_s: how.planned_s}
      end

      DISK_STEP_BYTES = 60 * 48_000 * 3
      private_constant :DISK_STEP_BYTES

      def connect(engine_socket, deck_socket)
        @engine = Links::ControlLink.new(engine_socket, who: "the audio engine") { live }
        @deck = Links::ControlLink.new(deck_socket, who: "the deck") { live unless @engine&.answers? }
        @feed = LiveFeed.new(hub, engine: @engine, deck: @deck, desk: @desk)
        @keeper = TakesKeeper.new(takes_folder, takes: @takes, alarms: @alarms, engine: @engine, show_id: -> { show_id }, clock: clock,
          armed: -> { session.tracks(kept.show).select(&:armed).map(&:key) }) { |event, data| hub.publish(event, data) }
      end

      def live
        @feed&.publish
        follow_held
      end

      # The desk follows every edit, in order, off the request's thread. Where it does not
      # answer, the difference shows (GET /api/desk) and can be pushed by hand.
      def push_next
        before, after = @pushes.pop
        @pushing = true
        @desk_fault = nil
        before ? follow(before, after) : stage(after || plan)
      rescue Links::DeskLink::Failed => e
        @desk_fault = e.message
        # What was only not answered is tried again.
        @staged = nil unless e.is_a?(Links::DeskLink::Refused)
        hub.publish("desk", fault: e.message)
      ensure
        @watch&.forget
        @pushing = false
      end

      def stage(show) = recording? ? hold : desk.stage(show)

      # Where gear or sources changed, the stage is set up anew, patch and all. A desk with
      # another card or rate would end a running take, so that waits until the take is over.
      def follow(before, after)
        return hold if (@held || reshaped?(before, after)) && recording?

        same = before.rig.equal?(after.rig) && before.rows.keys == after.rows.keys && before.sample_rate_hz == after.sample_rate_hz
        same ? desk.send_changes(before.patch, after.patch) : stage(after)
      rescue Links::DeskLink::Refused
        raise unless same
        recording? ? hold : desk.stage(after)
      end

      # An edit of gear that was kept may never have come to the stage: this server, or the desk,
      # was started anew before, or a take was running then. It is set up once for each plan; what
      # it refuses it would refuse again.
      def stage_other(gear)
        wanted = plan
        return if wanted.nil? || gear == Show::GearSum.of(wanted) || wanted.equal?(@staged) || recording?

        @staged = wanted
        @pushes << [nil, wanted]
      end

      # @return [Show, nil] nil while there is no show yet, or no database
      def plan
        @planned || kept.show
      rescue BadInput, Sequel::Error
        nil
      end

      def recording? = !running_take.nil?

      def reshaped?(before, after)
        shape = ->(show) { [show.sample_rate_hz, show.rig.first_of("desk")&.then { |one| show.places(one, "card-send").size }] }
        shape[before] != shape[after]
      end

      def hold
        @held = true
        @desk_fault = "another desk, or another rate, waits until the take is over"
        hub.publish("desk", fault: @desk_fault)
      end

      # What waited for the end of a take goes to the desk when it is over.
      def follow_held
        return unless @held && engine.answers? && engine.last("status")["recording"].nil?

        @held = false
        @pushes << nil
      end
    end
  end
end
