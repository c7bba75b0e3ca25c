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

        # @param author [Store::History::Author]
        # @param label [String] what the history calls it
        # @yield [Show] answers the edit, or a Refusal
        # @return [Store::Shows::Kept, Refusal]
        def call(version, author:, label:)
          change(version) do |show, now|
            edit = yield show
            next edit if edit.is_a?(Refusal)

            result = edit.apply(show)
            remember(author, now + 1, label, edit, show, result) unless result.is_a?(Refusal)
            result
          end
        end

        # @return [Store::Shows::Kept, Refusal]
        def undo(version, author) = replay(version, author, :last_done, :inverse, true, "undo")
        def redo(version, author) = replay(version, author, :last_undone, :edit, false, "redo")

        # Puts a whole other show in place of this one; the history is dropped with it.
        def replace(show)
          before = @context.kept
          after = @context.shows.change(@context.show_id, nil) { @context.history.forget(@context.show_id) && show }
          @context.announce(before, after)
          after
        end

        private

        def remember(author, version, label, edit, before, after)
          @context.history.remember(@context.show_id,
            author,
            version,
            label,
            edit,
            edit.inverse(before),
            Show::Parts.touched(before, after))
        end

        def replay(version, author, finder, which, undone, word)
          change(version) do |show, now|
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

        def change(version)
          before = nil
          after = @context.shows.change(@context.show_id, version) do |show, now|
            before = show
            yield show, now
          end
          @context.announce(Store::Shows::Kept.new(id: @context.show_id, version: nil, show: before), after) unless after.is_a?(Refusal)
          after
        end
      end
    end
  end
end
