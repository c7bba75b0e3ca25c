# frozen_string_literal: true

module Loomshuttle
  module Server
    # Lets the desk follow the show on air, off everybody's thread: whatever is kept of that show is sent,
    # newest last. Where the desk does not answer, the difference shows and can be pushed by hand. Of
    # several server processes on one database one does it, the others only look.
    class DeskFollower
      # @return [String, nil] why the desk did not follow the last edit
      attr_reader :fault

      # @param desk [Links::DeskLink]
      # @param shows [Store::Shows]
      # @param on_air [Store::OnAir]
      # @param running [RunningTake]
      # @param leads [#call] whether it is this process that writes into the desk
      # @yield [String, Hash] event and data, when something else is known of the desk
      def initialize(desk, shows:, on_air:, running:, leads: -> { true }, &publish)
        @desk, @shows, @on_air, @running, @leads, @publish = desk, shows, on_air, running, leads, publish
        @wishes = Thread::Queue.new
        @working = false
      end

      def leads? = @leads.call

      # Begins to work; on what was planned before nothing is sent.
      def start
        remember
        Runtime::Loop.start("desk follower", retry_s: 1) { work }
        @watch = DeskWatch.new(@desk, busy: -> { busy? }, plan: -> { plan&.patch }, stands: ->(gear) { stage_other(gear) }) { changed }
        self
      end

      # @yield when what is known of the desk may be another thing
      def on_change(&change) = @change = change

      # The show on air has another version, or another show is on air.
      def nudge = @wishes << :follow

      # Another desk is spoken to: what was known of the one before does not hold for it.
      def other_desk
        @watch&.forget
        nudge
      end

      # Writes all of the plan into the desk.
      #
      # @param fields [Array<String>, nil] of the patch; nil for all
      # @return [Integer] how many messages it took
      # @raise [Links::DeskLink::Failed]
      def push(show, fields = nil)
        state = @desk.state
        there = show.with(patch: show.patch.with(**state.to_h.slice(:slots, :sends, :turned, :powered)))
        count = @desk.send_changes(state, Compare::Blend.of(there, show.patch, fields, guard: false))
        @fault = nil unless fields
        count
      rescue Links::DeskLink::Refused => e
        raise if fields

        stage_instead(e) { @desk.stage(show) }
        @fault = nil
        show.patch.slots.size
      ensure
        @watch&.forget
      end

      # @return [Patch::Scene] what the desk says that it has
      def state = @desk.state

      # Whether there is a control line by which it can be told anything now.
      def answers? = @desk.answers?

      # One that has said nothing for a moment may have had nothing to say: it is asked.
      def answers_now?
        answers? || !@desk.checksum.nil?
      rescue Links::DeskLink::Failed
        false
      end

      # What the desk has, where that is not what the plan of the show on air says. While the desk is still
      # being told of edits nothing is known.
      #
      # @param kept [Store::Shows::Kept]
      # @return [Patch::Scene, nil]
      def drifted(kept)
        state = @watch&.state
        state unless state.nil? || busy? || @told&.id != kept.id || @told.version != kept.version || state.checksum == kept.show.patch.checksum
      end

      # A take has ended: what had to wait for that is sent.
      def take_over
        return unless @held

        @held = false
        nudge
      end

      private

      def busy? = @working || @wishes.size.positive?

      def work
        wishes = [@wishes.pop]
        @working = true
        wishes << @wishes.pop until @wishes.empty?
        @fault = nil
        follow(anew: wishes.include?(:stage))
      rescue Links::DeskLink::Failed => e
        @fault = e.message
        # What was only not answered is tried again.
        @staged = nil unless e.is_a?(Links::DeskLink::Refused)
        @publish.call("desk", fault: e.message)
      ensure
        @watch&.forget
        @working = false
      end

      # What was sent last is where it begins; of a show that has just come on air, or before this process
      # began, nothing is known, and nothing is written over.
      def follow(anew: false)
        before, followed = @told, @followed
        now = remember
        return unless now && @followed && @leads.call
        return stage(now.show) if anew

        bring(before.show, now.show) if before && followed && before.id == now.id && before.version != now.version
      end

      # @return [Store::Shows::Kept, nil] of the show on air
      def remember
        seat = @on_air.now
        @followed = seat.follows
        @told = seat.show_id && @shows.load(seat.show_id)
      end

      # Where gear or sources changed, the stage is set up anew, patch and all. A desk with
      # another card or rate would end a running take, so that waits until the take is over.
      def bring(before, after)
        return hold if (@held || reshaped?(before, after)) && recording?

        # By what it is, not by which value it is: a show that was read anew has the same gear.
        same = Show::GearSum.of(before) == Show::GearSum.of(after)
        same ? @desk.send_changes(before.patch, after.patch) : stage(after)
      rescue Links::DeskLink::Refused => e
        raise unless same

        stage_instead(e) { stage(after) }
      end

      # A desk that stands on another rig than the plan refuses places that it has not: with all that is planned the whole
      # stage is set up anew. Where that is refused too, what was refused first is what there is to say.
      def stage_instead(refused)
        yield
      rescue Links::DeskLink::Refused
        raise refused
      end

      def stage(show) = recording? ? hold : @desk.stage(show)

      # An edit of gear that was kept may never have come to the stage: this server, or the desk,
      # was started anew before, or a take was running then. It is set up once for each plan; what
      # it refuses it would refuse again.
      def stage_other(gear)
        return unless @leads.call && @on_air.now.follows

        wanted = plan
        return if wanted.nil? || gear == Show::GearSum.of(wanted) || wanted.equal?(@staged) || recording?

        @staged = wanted
        @wishes << :stage
      end

      # @return [Show, nil] nil while no show is on air, or no database there
      def plan
        id = @on_air.show_id
        id && @shows.load(id).show
      rescue BadInput, Sequel::Error
        nil
      end

      def recording? = !@running.now.nil?

      def reshaped?(before, after)
        shape = ->(show) { [show.sample_rate_hz, show.rig.first_of("desk")&.then { |one| show.places(one, "card-send").size }] }
        shape[before] != shape[after]
      end

      def hold
        @held = true
        @fault = "another desk, or another rate, waits until the take is over"
        @publish.call("desk", fault: @fault)
      end

      # Browsers are told where what they show of the desk is another thing now.
      def changed
        told = @told
        drift = told && drifted(told)&.checksum
        return if drift.nil? && @known == [@fault, nil]

        @known = [@fault, drift]
        @publish.call("desk", known: true)
        @change&.call
      end
    end
  end
end
