# frozen_string_literal: true

module Loomshuttle
  module Compare
    # What differs between two patches of one show, in words and by field; neighbours that
    # differ alike are told as one run.
    #
    #   Compare::Patches.of(show, show.patch, show.scenes["Rehearsal"])
    #     # => [{part:, place:, places:, field:, before:, after:, words:}]
    module Patches
      # What a desk holds; where microphones are plugged is the stage's business.
      DESK_PARTS = %w[slots sends turned powered].freeze

      module_function

      # @return [Array<Hash>] plain data, in the order of the parts
      def of(show, before, after, parts: Show::Parts::PATCH, was: "before") = told(show, changes(show, before, after, parts), was)

      # What the desk side differs in: `after` is what it has, `before` what is planned.
      #
      # @return [Array<Hash>]
      def desk(show, before, after)
        told(show, changes(show, before, after, DESK_PARTS).select { |change| Patch::DeskSide.has?(show, change.place) }, "planned")
      end

      # @return [Array<Change>] one a place
      def changes(show, before, after, parts)
        Show::Parts.changed(show.with(patch: before), show.with(patch: after), parts).flat_map do |part, keys|
          keys.map { |key, (was, is)| Change.single(part, key, was, is) }
        end
      end

      def told(show, changes, was)
        words = ChangeWords.new(show, was: was)
        in_runs(show, changes).map { |change| words.to_data(change) }
      end

      # Neighbours may have been changed in any order.
      def in_runs(show, changes)
        ordered = changes.sort_by.with_index { |change, i| [*place_in_order(show, change), i] }
        ordered.each_with_object([]) do |change, runs|
          longer = runs.last&.with_next(change)
          longer ? runs[-1] = longer : runs << change
        end
      end

      def place_in_order(show, change)
        field, _, number = change.place.rpartition("/")
        [Show::Parts::PATCH.index(change.part), field, change.key.delete_prefix(change.place), show.rows[change.place]&.number || number.to_i]
      end
      private_class_method :changes, :told, :in_runs, :place_in_order
    end
  end
end
