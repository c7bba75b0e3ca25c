# frozen_string_literal: true

module Loomshuttle
  module Server
    module Actions
      # Applies one edit (or a group) to the show, remembers it with its inverse, and lets
      # browsers and desk follow. Undo and redo replay what the same browser did.
      class EditShow
        def initialize(context)
          @context = context
        end

        # Two people work at one show: an edit goes with everything that others did meanwhile, as
        # long as they did not change the same.
        #
        # @param version [Integer] the one that was looked at when the edit was begun
        # @param author [Store::History::Author]
        # @param label [String] what the history calls it
        # @param exact [Boolean] the edit is for that version only: what it does hangs on all of the show
        # @param during_take [Boolean] somebody was told what it does to the running take
        # @yield [Show] answers the edit, or a Refusal
        # @return [Store::Shows::Kept, Refusal]
        # @raise [Store::Shows::Outdated]
        # @raise [Needed] when it would hurt a take that runs
        def call(version, author:, label:, exact: false, during_take: false)
          change(exact ? version : nil, label, during_take) do |show, now|
            edit = yield show
            next edit if edit.is_a?(Refusal)

            result = edit.apply(show)
            next result if result.is_a?(Refusal)

            refuse_meeting(version, now, author, show, result)
            remember(author, now + 1, label, edit, show, result)
            result
          end
        end

        # @return [Store::Shows::Kept, Refusal]
        def undo(author, during_take: false) = replay(author, :last_done, :inverse, true, "undo", during_take)
        def redo(author, during_take: false) = replay(author, :last_undone, :redo, false, "redo", during_take)

        # Puts a whole other show in place of this one; the history is dropped with it.
        #
        # @raise [BadInput] while a take runs
        def replace(show)
          take = @context.running_take
          raise BadInput.new(field: "show", value: show.name, allowed: "another show when take #{take.dig("take", "number")} is over; stop it first") if take

          before = @context.kept
          after = @context.shows.replace(@context.show_id) { @context.history.forget(@context.show_id) && show }
          @context.announce(before, after)
          forget_levels
          after
        end

        private

        # Peaks of one show do not stay on the lanes of the next. An engine that does not answer has none.
        def forget_levels
          @context.engine.ask({do: "forget_levels"}, seconds: 2)
        rescue Runtime::Gone
          nil
        end

        def remember(author, version, label, edit, before, after)
          @context.history.remember(@context.show_id,
            author,
            version,
            label,
            edit,
            before,
            after)
        end

        # @raise [Store::Shows::Outdated]
        def refuse_meeting(version, now, author, before, after)
          return if version == now

          met = @context.history.met(@context.show_id, author, version, before, after)
          raise Store::Shows::Outdated.new(version, now, met) if met.any? || version > now || version < @context.shows.whole_since(@context.show_id)
        end

        def replay(author, finder, which, undone, word, during_take)
          change(nil, word.capitalize, during_take) do |show, now|
            entry = @context.history.public_send(finder, @context.show_id, author)
            next nothing(word) unless entry

            other = @context.history.built_on(@context.show_id, author, entry)
            next built_on(word, entry, other) if other

            result = entry[which].apply(show)
            @context.history.mark(entry[:id], undone, now + 1) unless result.is_a?(Refusal)
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

        def change(version, label, during_take)
          before = nil
          take = @context.running_take
          after = @context.shows.change(@context.show_id, version) do |show, now|
            before = show
            yield(show, now).tap { |result| ask_first(show, result, take) unless take.nil? || during_take || result.is_a?(Refusal) }
          end
          return after if after.is_a?(Refusal)

          @context.announce(Store::Shows::Kept.new(id: @context.show_id, version: nil, show: before), after)
          if take
            stand_in_take(before, after.show, label)
            Capture.new(@context).follow(before, after.show)
          end
          after
        end

        def ask_first(before, after, take)
          words = Loomshuttle::Capture::TakeGuard.harm(before, after, tracks: take["tracks_in"], number: take.dig("take", "number"))
          raise Needed, words if words
        end

        # Whoever listens to the take later finds in it what was patched meanwhile.
        def stand_in_take(before, after, label)
          changes = Loomshuttle::Compare::Patches.of(after, before.patch, after.patch).map { |change| change[:words] }
          @context.engine.ask({do: "patch", words: [label, *changes].first(4).join("; ")[0, 900]}, seconds: 2)
        rescue BadInput, Runtime::Gone
          # It has just ended, or nobody is there to be told.
          nil
        end
      end
    end
  end
end
