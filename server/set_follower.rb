# frozen_string_literal: true

module Loomshuttle
  module Server
    # Tells the deck anew what is played after what plays, when set list or songs were changed while a set runs. Of several
    # servers on one database one does it.
    class SetFollower
      # @param deck [Links::ControlLink]
      # @param wishes [SongWishes]
      # @param workspaces [Workspaces]
      # @param on_air [Store::OnAir]
      # @param leads [#call] whether it is this process that does it
      def initialize(deck, wishes:, workspaces:, on_air:, leads: -> { true })
        @deck, @wishes, @workspaces, @on_air, @leads = deck, wishes, workspaces, on_air, leads
        @news = Thread::Queue.new
      end

      def start
        Runtime::Loop.start("set list", retry_s: 1) { @news.pop.then { tell } }
        self
      end

      # Set list or songs may be others now.
      def nudge = @news << true

      private

      def tell
        @news.clear
        playing = @deck.last("deck")&.fetch("playing", nil)
        song = SongWishes.song_of(playing["key"]) if playing && playing["onward"]
        id = @on_air.show_id
        return unless song && id && @leads.call

        show = @workspaces[id].show
        @deck.ask({do: "queue", queue: @wishes.behind(show, song)}) if show.set_list.key?(song)
      rescue BadInput, Runtime::Gone => e
        # What plays may be over by now; a deck that is gone knows its queue by itself.
        warn "set list: #{e.message}"
      end
    end
  end
end
