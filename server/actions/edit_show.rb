# frozen_string_literal: true

module Loomshuttle
  module Server
    module Actions
      # Applies one edit (or a group) to the show, remembers it with its inverse, and lets
      # browsers and desk follow. Undo and redo replay what is remembered.
      class EditShow
        def initialize(context)
          @context = context
        end

        # @param label [String] what the history calls it
        # @yield [Show] answers the edit, or a Refusal
        # @return [Store::Shows::Kept, Refusal]
        def call(version, label:)
          change(version) do |show|
            edit = yield show
            next edit if edit.is_a?(Refusal)

            result = edit.apply(show)
            @context.shows.remember(@context.show_id, label, edit, edit.inverse(show)) unless result.is_a?(Refusal)
            result
          end
        end

        # @return [Store::Shows::Kept, Refusal]
        def undo(version) = replay(version, :last_done, :inverse, true, "undo")
        def redo(version) = replay(version, :last_undone, :edit, false, "redo")

        private

        def replay(version, finder, which, undone, word)
          change(version) do |show|
            entry = @context.shows.public_send(finder, @context.show_id)
            next nothing(word) unless entry

            @context.shows.mark(entry[:id], undone)
            entry[which].apply(show)
          end
        end

        def nothing(word) = Refusal.new(field: word, value: nil, allowed: "an edit to #{word}", why: "There is nothing to #{word}.")

        def change(version)
          before = nil
          after = @context.shows.change(@context.show_id, version) do |show|
            before = show
            yield show
          end
          @context.announce(before, after) unless after.is_a?(Refusal)
          after
        end
      end
    end
  end
end
