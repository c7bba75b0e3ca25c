# frozen_string_literal: true

module Loomshuttle
  module Compare
    # What differs between two whole shows, in words: gear, rows, tracks, songs and patch.
    #
    #   Compare::Shows.of(before, after)
    #     # => [{part: "rows", key: "list/row/1", words: "Row 1 (Hurdy-gurdy): stand is boom, before: nothing"}]
    module Shows
      # How parts are called whose values have no name of their own.
      SUBJECTS = {"roles" => "The role",
                  "scenes" => "The scene",
                  "profiles" => "The profile",
                  "accepted" => "What is left on purpose,",
                  "check" => "The swing's"}.freeze
      private_constant :SUBJECTS

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
        subject = subject(show, part, key, was || is)
        return "#{subject} is #{plain(is)}, before: #{plain(was)}" unless (was || is).is_a?(Struct)
        return "#{subject} is new" if was.nil?
        return "#{subject} is gone" if is.nil?

        fields = was.to_h.keys.reject { |name| was[name] == is[name] }
        "#{subject}: #{fields.map { |name| "#{name.to_s.tr("_", " ")} is #{plain(is[name])}, before: #{plain(was[name])}" }.join("; ")}"
      end

      # What changed, as people call it.
      def subject(show, part, key, value)
        case part
        when "rows" then "Row #{value.number} (#{value.name})"
        when "tracks" then "Track #{value.number} (#{value.name})"
        when "devices" then value.name
        when "cables" then "The cable from #{value.ends.join(" to ")}"
        when "songs" then "The song #{value.title}"
        when "names" then "The name of #{show.rig.label(key)}"
        when "landed" then "Where #{show.label(key)} leaves"
        when "about" then "The show's #{key.tr("_", " ")}"
        else "#{SUBJECTS.fetch(part, part)} #{key}"
        end
      end

      def plain(value)
        case value
        when "", nil then "nothing"
        when %r{\Alist/row/\d+\z} then "row #{Endpoint.parse(value).number}"
        when String then value
        when Struct, Enumerable then "other"
        when true, false then value ? "on" : "off"
        else value.to_s
        end
      end
      private_class_method :words, :subject, :plain
    end
  end
end
