# frozen_string_literal: true

module Loomshuttle
  module Server
    module Actions
      # Gives desk and audio device to a show. It is said first what that would move; then somebody chooses
      # which way.
      class PutOnAir
        # @param shows [Store::Shows]
        # @param history [Store::History]
        # @param on_air [Store::OnAir]
        # @param running [RunningTake]
        # @param desk [DeskFollower]
        # @param edit [EditShow]
        # @param engine [Links::ControlLink]
        def initialize(shows:, history:, on_air:, running:, desk:, edit:, engine:)
          @shows, @history, @on_air, @running, @desk, @edit, @engine = shows, history, on_air, running, desk, edit, engine
        end

        # @return [Hash] on_air: the show that is, nil for none; take: number of the one that runs; fault of a
        #   desk that does not answer; changes: how the desk differs from this show's plan
        def compare(id)
          show = @shows.load(id).show
          state, fault = state_of_desk
          {on_air: seat, take: @running.now&.dig("take", "number"), fault: fault,
           changes: (state && state.checksum != show.patch.checksum) ? Loomshuttle::Compare::Patches.desk(show, show.patch, state) : []}
        end

        # @param direction [String] "send" the plan to the desk, "take" the desk's state into the plan, or only "watch"
        # @return [Store::Shows::Kept, Refusal]
        # @raise [BadInput] while a take runs
        # @raise [Links::DeskLink::Failed] where the desk does not answer; nothing is changed then
        def call(id, direction, author)
          refuse_in_take(id)
          state = @desk.state unless direction == "watch"
          taken = take_in(id, state, author) if direction == "take"
          return taken if taken.is_a?(Refusal)

          kept = @shows.load(id)
          @on_air.put(id, follows: direction != "watch")
          @history.note(id, author, kept.version, "Put on air: #{words(direction)}")
          forget_levels
          @desk.push(kept.show) if direction == "send"
          kept
        end

        # Nobody holds desk and device any more.
        def leave(id, author)
          refuse_in_take(id)
          return unless @on_air.on_air?(id)

          @on_air.clear
          @history.note(id, author, @shows.load(id).version, "Taken off air")
        end

        private

        def words(direction) = {"send" => "the plan sent to the desk", "take" => "the desk's state taken", "watch" => "the desk is only watched"}.fetch(direction)

        def seat
          id = @on_air.show_id
          id && {id: id, name: @shows.load(id).show.name, follows: @on_air.now.follows}
        end

        def state_of_desk
          [@desk.state, nil]
        rescue Links::DeskLink::Failed => e
          [nil, e.message]
        end

        def refuse_in_take(id)
          take = @running.now or return
          raise BadInput.new(field: "show", value: @shows.load(id).show.name, allowed: "another show when take #{take.dig("take", "number")} is over; stop it first")
        end

        def take_in(id, state, author)
          @edit.call(id, nil, author: author, label: "Take the desk's state", exact: true) do |now|
            Loomshuttle::Edits::Recall.new(scene: Loomshuttle::Patch::DeskSide.over(now, now.patch, state), fields: nil)
          end
        end

        # Peaks of one show do not stay on the lanes of the next. An engine that does not answer has none.
        def forget_levels
          @engine.ask({do: "forget_levels"}, seconds: 2)
        rescue Runtime::Gone
          nil
        end
      end
    end
  end
end
