# frozen_string_literal: true

module Loomshuttle
  module Server
    # What the actions work with: the stores, the lines to engine and desk, the browsers,
    # the data folder and the clock.
    class Context
      attr_reader :shows, :takes, :engine, :desk, :hub, :data_folder, :clock, :codec

      def initialize(database:, codec:, data_folder:, engine_port:, osc_port:, clock: -> { Time.now })
        @codec = codec
        @shows = Store::Shows.new(database, codec)
        @takes = Store::Takes.new(database)
        @data_folder = data_folder
        @clock = clock
        @hub = Hub.new
        @desk = Links::DeskLink.new(port: osc_port)
        @engine = Links::EngineLink.new(port: engine_port) { frame }
        @pushes = Thread::Queue.new
        Thread.new { push_all }
      end

      def show_id = @show_id ||= shows.first_id

      # @return [Store::Shows::Kept]
      def kept = shows.load(show_id)

      # Tells every browser that the show changed, and lets the desk follow.
      def announce(before, after)
        hub.publish("show", version: after.version)
        @pushes << [before.patch, after.show.patch]
      end

      # @return [Integer] bytes free on the disk of the takes
      def free_bytes = Integer(IO.popen(["df", "-B1", "--output=avail", data_folder], &:read).lines.last)

      private

      # The desk follows every edit, in order, off the request's thread. Where it does not
      # answer, the difference shows (GET /api/desk) and can be pushed by hand.
      def push_all
        loop do
          before, after = @pushes.pop
          desk.send_changes(before, after)
        rescue Links::DeskLink::Failed => e
          hub.publish("desk", fault: e.message)
        end
      end

      def frame
        finish_take
        hub.publish("frame", meters: engine.meters, engine: engine.status, desk: {answers: desk.answers?, peaks: desk.peaks&.map { |peak| Audio::Scale.dbfs(peak).round(1) }})
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
      end
    end
  end
end
