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
        id = @on_air.show_id
        return unless id && @leads.call

        deck = @deck.ask({do: "status"})
        wish = anew(@workspaces[id].show, deck["playing"], deck["next"])
        @deck.ask({do: "queue", behind: deck.dig("playing", "key"), **wish}) if wish
      rescue Runtime::Gone => e
        # A deck that is gone knows its queue by itself.
        warn "set list: #{e.message}"
      rescue BadInput => e
        return warn "set list: #{e.message}" unless e.field == "behind"

        # Another song has begun between the two questions: it is asked once more.
        nudge
      end

      # @param playing, coming [Hash, nil] of the deck's state
      # @return [Hash, nil] what it is to be told
      def anew(show, playing, coming)
        song = SongWishes.song_of(playing["key"]) if playing && playing["onward"]
        return {queue: @wishes.behind(show, song), standing: (standing(show, song) if playing["paused"])}.compact if song && show.set_list.key?(song)

        # In the pause before it begins by itself.
        waited = SongWishes.song_of(coming["key"]) if playing.nil? && coming && coming["in_s"]
        {queue: [standing(show, waited), *@wishes.behind(show, waited)]} if waited && show.set_list.key?(waited)
      end

      def standing(show, song) = {**@wishes.of(show, song), **@wishes.ending(show, song)}
    end
  end
end
