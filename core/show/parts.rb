# frozen_string_literal: true

module Loomshuttle
  class Show
    # A show taken apart into keyed values, so that any two can be compared and any value
    # set back: {"slots" => {"desk/channel/9" => Pick}, "rows" => {...}, ...}. Undo, the
    # question whether two edits touch the same, comparing shows and recalling scenes all
    # come from here.
    #
    #   Parts.changed(before, after)   # => {"slots" => {"desk/channel/9" => [Pick, nil]}}
    module Parts
      FLAGS = %w[opened splits turned powered].freeze
      PATCH = ["slots", "plugs", "sends", *FLAGS].freeze
      NAMES = ["about", "profiles", "devices", "cables", "rows", "tracks", "roles", "songs", "names", "landed", *PATCH,
        "scenes", "check", "accepted"].freeze
      # Parts whose order means something.
      ORDERED = %w[devices cables songs roles].freeze
      # Joins a channel and a mix in one key.
      SENT = ">"

      module_function

      # @return [Hash{String => Object}] key => value of one part
      def read(show, part)
        case part
        when "about" then {"name" => show.name, "venue" => show.venue, "sample_rate_hz" => show.sample_rate_hz}
        when "profiles" then show.profiles.select { |_, profile| profile.own }
        when "devices" then show.rig.devices
        when "cables" then show.rig.cables.to_h { |cable| [cable.id, cable] }
        when "songs" then show.songs.to_h { |song| [song.id, song] }
        when "check" then {"state" => show.check}
        when *PATCH then read_patch(show.patch, part)
        else show.public_send(part)
        end
      end

      def read_patch(patch, part)
        return patch.public_send(part).to_h { |id| [id, true] } if FLAGS.include?(part)
        return patch.public_send(part) unless part == "sends"

        patch.sends.flat_map { |from, mixes| mixes.map { |mix, send| [from + SENT + mix, send] } }.to_h
      end

      # @return [Hash{String => Hash}] part => {key => [before, after]}, only what differs
      def changed(before, after, parts = NAMES)
        parts.to_h { |part| [part, same?(before, after, part) ? {} : differing(read(before, part), read(after, part))] }.reject do |_, keys|
          keys.empty?
        end
      end

      # @return [Array<String>] "part/key" of everything that differs
      def touched(before, after) = changed(before, after).flat_map { |part, keys| keys.keys.map { |key| "#{part}/#{key}" } }

      # Values that are the very same object need no looking into.
      def same?(before, after, part)
        case part
        when *PATCH then before.patch.equal?(after.patch) || before.patch.public_send(part).equal?(after.patch.public_send(part))
        when "devices", "cables" then before.rig.equal?(after.rig)
        when "about" then false
        else before.public_send(part).equal?(after.public_send(part))
        end
      end

      def differing(before, after)
        (before.keys | after.keys).reject { |key| before[key] == after[key] }.to_h { |key| [key, [before[key], after[key]]] }
      end

      # @param changes [Hash{String => Hash{String => Object, nil}}] part => {key => value}
      # @param order [Hash{String => Array<String>}] order of keys, for ordered parts
      # @return [Show]
      def put(show, changes, order = {})
        patched = changes.slice(*PATCH).reduce(show.patch) { |patch, (part, values)| put_patch(patch, part, values) }
        rest = changes.except(*PATCH).reduce({}) { |fields, (part, values)| fields.merge(fields_of(show, fields, part, values, order[part])) }
        show.with(**rest, patch: patched)
      end

      def put_patch(patch, part, values)
        if FLAGS.include?(part)
          return patch.with(part.to_sym => values.reduce(patch.public_send(part)) { |set, (id, on)| on ? set | [id] : set - [id] }.freeze)
        end
        return patch.with(part.to_sym => patch.public_send(part).merge(values).compact.freeze) unless part == "sends"

        values.reduce(patch) { |now, (key, send)| key.split(SENT).then { |from, mix| now.with_send(from, mix, send) } }
      end

      def fields_of(show, fields, part, values, order)
        case part
        when "about" then values.transform_keys(&:to_sym)
        when "check" then {check: values["state"]}
        when "songs" then {songs: merged(read(show, "songs"), values, order).values.freeze}
        when "devices" then {rig: (fields[:rig] || show.rig).with(devices: merged(show.rig.devices, values, order))}
        when "cables" then {rig: (fields[:rig] || show.rig).with(cables: merged(read(show, "cables"), values, order).values.freeze)}
        when "profiles" then {profiles: show.profiles.merge(values).compact.freeze}
        when "rows" then {rows: merged(show.rows, values, nil).sort_by { |_, row| row.number }.to_h.freeze}
        else {part.to_sym => merged(show.public_send(part), values, order)}
        end
      end

      def merged(before, values, order)
        merged = before.merge(values).compact
        order ? merged.sort_by.with_index { |(key, _), i| [order.index(key) || order.size, i] }.to_h.freeze : merged.freeze
      end
      private_class_method :read_patch, :same?, :differing, :put_patch, :fields_of, :merged
    end
  end
end
