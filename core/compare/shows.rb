# frozen_string_literal: true

module Loomshuttle
  module Compare
    # What differs between two whole shows, in words: gear, rows, tracks, songs and patch.
    #
    #   Compare::Shows.of(before, after)
    #     # => [{part: "rows", key: "list/row/1", words: "Row 1 (Hurdy-gurdy): stand is boom, before: nothing"}]
    module Shows
      module_function

      # @return [Array<Hash>] plain data; of the patch a line a run
      def of(before, after)
        whole = Show::Parts.changed(before, after, Show::Parts::NAMES - Show::Parts::PATCH).flat_map { |part, keys|
          keys.map do |key, (was, is)|
            {part: part, key: key, words: words(after, part, key, was, is)}
          end
        }
        whole + Patches.of(after, before.patch, after.patch).map { |change| {part: change[:part], key: change[:place], words: change[:words]} }
      end

      def words(show, part, key, was, is)
        subject = Show::Parts[part].subject(show, key, was || is)
        return "#{subject} is #{plain(show, is)}, before: #{plain(show, was)}" unless (was || is).is_a?(Struct)
        return "#{subject} is new" if was.nil?
        return "#{subject} is gone" if is.nil?

        fields = was.to_h.keys.reject { |name| was[name] == is[name] }
        "#{subject}: #{fields.map { |name| "#{name.to_s.tr("_", " ")} is #{plain(show, is[name])}, before: #{plain(show, was[name])}" }.join("; ")}"
      end

      def plain(show, value)
        return show.label(value) if show.rows.key?(value)

        case value
        when "", nil then "nothing"
        when String then value
        when Struct, Enumerable then "other"
        when true, false then value ? "on" : "off"
        else value.to_s
        end
      end
      private_class_method :words, :plain
    end
  end
end
