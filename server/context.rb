# frozen_string_literal: true

module Loomshuttle
  module Server
    # What the actions work with: the stores, the lines to engine and desk, the browsers,
    # the data folder and the clock.
    class Context
      # @return [String, nil] why the desk did not follow the last edit
      attr_reader :desk_fault

      attr_reader :shows, :history, :templates, :takes, :engine, :desk, :hub, :data_folder, :clock, :codec

      def initialize(database:, codec:, data_folder:, engine_port:, osc_port:, clock: -> { Time.now })
        @codec = codec
        @shows = Store::Shows.new(database, codec)
        @history = Store::History.new(database)
        @templates = Store::Templates.new(database, codec)
        @takes = Store::Takes.new(database)
        @data_folder = data_folder
        @clock = clock
        @hub = Hub.new
        @desk = Links::DeskLink.new(port: osc_port)
        @engine = Links::EngineLink.new(port: engine_port) { frame }
        @pushes = Thread::Queue.new
        @pushing = false
        Thread.new { push_all }
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

      # @return [Integer] bytes free on the disk of the takes
      def free_bytes = Integer(IO.popen(["df", "-B1", "--output=avail", data_folder], &:read).lines.last)

      private

      # The desk follows every edit, in order, off the request's thread. Where it does not
      # answer, the difference shows (GET /api/desk) and can be pushed by hand.
      def push_all
        loop do
          before, after = @pushes.pop
          @pushing = true
          @desk_fault = nil
          before ? follow(before, after) : desk.stage(after || plan)
        rescue Links::DeskLink::Failed => e
          @desk_fault = e.message
          # What was only not answered is tried again.
          @staged = nil unless e.is_a?(Links::DeskLink::Refused)
          hub.publish("desk", fault: e.message)
        ensure
          @watch&.forget
          @pushing = false
        end
      end

      # Where gear or sources changed, the stage is set up anew, patch and all. A desk with
      # another card or rate would end a running take, so that waits until the take is over.
      def follow(before, after)
        return hold if (@held || reshaped?(before, after)) && recording?

        same = before.rig.equal?(after.rig) && before.rows.keys == after.rows.keys && before.sample_rate_hz == after.sample_rate_hz
        same ? desk.send_changes(before.patch, after.patch) : desk.stage(after)
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

      # Asked, not remembered: a server that was just started has not heard of a running take yet.
      def recording?
        !engine.ask(do: "status")["recording"].nil?
      rescue Links::EngineLink::Gone
        false
      end

      def reshaped?(before, after)
        shape = ->(show) { [show.sample_rate_hz, show.rig.first_of("desk")&.then { |one| show.places(one, "card-send").size }] }
        shape[before] != shape[after]
      end

      def hold
        @held = true
        @desk_fault = "another desk, or another rate, waits until the take is over"
        hub.publish("desk", fault: @desk_fault)
      end

      def frame
        finish_take
        hub.publish("frame",
          meters: engine.meters,
          engine: engine.status,
          desk: {answers: desk.answers?, peaks: desk.peaks&.map { |peak| Audio::Scale.dbfs(peak).round(1) }})
      rescue => e
        # A frame that cannot be sent is not worth the line to the engine.
        warn "frame: #{e.class}: #{e.message}"
      end

      # The engine ends takes by itself too (a lost desk, a full disk): the database follows
      # what the engine and the take's own journal say.
      def finish_take
        ended = engine.status && engine.status["last_take"]
        return if ended.nil? || ended == @ended

        @ended = ended
        takes.close(ended["id"], frames: ended["frames"], reason: ended["reason"])
        hub.publish("takes", ended)
        @pushes << nil if @held
        @held = false
      end
    end
  end
end
