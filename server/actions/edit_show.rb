# frozen_string_literal: true

module Loomshuttle
  module Server
    module Actions
      # Applies one edit (or a group) to a show and remembers it with its inverse; browsers and desk follow
      # what is kept. Undo and redo replay what the same browser did.
      class EditShow
        # @param shows [Store::Shows]
        # @param songs [Store::Songs] what a set list may name
        # @param history [Store::History]
        # @param running [RunningTake]
        # @param capture [Capture] what an edit does to tracks holds in the running take too
        def initialize(shows:, songs:, history:, running:, capture:)
          @shows, @songs, @history, @running, @capture = shows, songs, history, running, capture
        end

        # Two people work at one show: an edit goes with everything that others did meanwhile, as
        # long as they did not change the same.
        #
        # @param id [Integer] of the show
        # @param version [Integer, nil] the one that was looked at when the edit was begun; nil for one that goes
        #   with whatever came since
        # @param author [Store::History::Author] an edit that is kept already under its request is not done again
        # @param label [String] what the history calls it
        # @param exact [Boolean] the edit is for that version only: what it does hangs on all of the show
        # @param during_take [Boolean] somebody was told what it does to the running take
        # @param on_recorder [Boolean] somebody was told that it arms tracks while a desk listens to the recorder
        # @yield [Show] answers the edit, or a Refusal
        # @return [Store::Shows::Kept, Refusal]
        # @raise [Store::Shows::Outdated]
        # @raise [Needed] when it would hurt a take that runs
        def call(id, version, author:, label:, exact: false, during_take: false, on_recorder: false)
          return @shows.load(id) if @history.kept?(id, author)

          change(id, exact ? version : nil, label, during_take) do |show, now|
            edit = yield show
            next edit if edit.is_a?(Refusal)

            result = edit.apply(edit.is_a?(Loomshuttle::Edits::SetSetList) ? @songs.known(show, edit.songs) : show)
            next result if result.is_a?(Refusal)

            refuse_meeting(id, version, now, author, show, result)
            @capture.refuse_on_recorder(result) if !on_recorder && arms?(show, result)
            @history.remember(id, author, now + 1, label, edit, show, result)
            result
          end
        end

        # @return [Store::Shows::Kept, Refusal]
        def undo(id, author, during_take: false) = replay(id, author, :last_done, :inverse, true, "undo", during_take)
        def redo(id, author, during_take: false) = replay(id, author, :last_undone, :redo, false, "redo", during_take)

        private

        def arms?(before, after) = after.tracks.values.any? { |track| track.armed && before.tracks[track.id]&.armed == false }

        # @raise [Store::Shows::Outdated]
        def refuse_meeting(id, version, now, author, before, after)
          return if version.nil? || version == now

          met = @history.met(id, author, version, before, after)
          raise Store::Shows::Outdated.new(version, now, met) if met.any? || version > now
        end

        def replay(id, author, finder, which, undone, word, during_take)
          change(id, nil, word.capitalize, during_take) do |show, now|
            entry = @history.public_send(finder, id, author)
            next nothing(word) unless entry

            other = @history.built_on(id, author, entry)
            next built_on(word, entry, other) if other

            result = entry[which].apply(show)
            @history.mark(entry[:id], undone, now + 1) unless result.is_a?(Refusal)
            result
          end
        end

        def nothing(word)
          Refusal.new(field: word, value: nil, allowed: "an edit of your own to #{word}", why: "There is nothing of yours to #{word}.")
        end

        def built_on(word, entry, other)
          who = other[:who].empty? ? "Another browser" : other[:who]
          Refusal.new(field: word, value: entry[:label], allowed: "an edit that nobody has built on since",
            why: "\"#{entry[:label]}\" stays: #{who} changed the same place since (\"#{other[:label]}\"). Ask them to undo that first, or edit it by hand.")
        end

        def change(id, version, label, during_take)
          before = nil
          take = @running.of(id)
          after = @shows.change(id, version) do |show, now|
            before = show
            yield(show, now).tap { |result| ask_first(show, result, take) unless take.nil? || during_take || result.is_a?(Refusal) }
          end
          @capture.follow(id, before, after.show, label) if take && !after.is_a?(Refusal)
          after
        end

        def ask_first(before, after, take)
          words = Loomshuttle::Capture::TakeGuard.harm(before, after, tracks: take["tracks_in"], number: take.dig("take", "number"))
          raise Needed, words if words
        end
      end
    end
  end
end
