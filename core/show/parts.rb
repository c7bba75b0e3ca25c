# frozen_string_literal: true

module Loomshuttle
  class Show
    # A show taken apart into keyed values, so that any two can be compared and any value
    # set back: {"slots" => {"desk/channel/9" => Pick}, "rows" => {...}, ...}. Undo, the
    # question whether two edits touch the same, comparing shows and recalling scenes all
    # come from here; what a part is, is told in parts/.
    #
    #   Parts.changed(before, after)   # => {"slots" => {"desk/channel/9" => [Pick, nil]}}
    module Parts
      # Joins a channel and a mix in one key.
      SENT = ">"
      FLAGS = %w[opened splits turned powered].freeze
      OF_PATCH = [Slots.new, Plugs.new, Sends.new, *FLAGS.map { |name| Flag.new(name) }].freeze
      ALL = [About.new, Profiles.new, Devices.new, Cables.new, Rows.new, Tracks.new, SetList.new, Mixes.new, RoleTerms.new, Names.new, Landed.new,
        *OF_PATCH, Scenes.new, Swung.new, Accepted.new].freeze
      PATCH = OF_PATCH.map(&:name).freeze
      NAMES = ALL.map(&:name).freeze
      BY_NAME = ALL.to_h { |part| [part.name, part] }.freeze
      private_constant :BY_NAME

      module_function

      # @return [Part]
      def [](name) = BY_NAME.fetch(name)

      # @return [Hash{String => Object}] key => value of one part
      def read(show, name) = self[name].read(show)

      # @return [Hash{String => Hash}] part => {key => [before, after]}, only what differs
      def changed(before, after, names = NAMES)
        names.to_h { |name| [name, differing(self[name], before, after)] }.reject { |_, keys| keys.empty? }
      end

      # @return [Hash{String => Array}] part => the keys that stand elsewhere in `after`, see Order
      def moved(before, after)
        ALL.select(&:ordered?).to_h { |part| [part.name, part.same?(before, after) ? [] : Order.moves(part.read(before).keys, part.read(after).keys)] }
          .reject { |_, moves| moves.empty? }
      end

      # @return [Array<String>] "part/key" of everything that differs, its place in an order too
      def touched(before, after)
        keys = changed(before, after).transform_values(&:keys).merge(moved(before, after).transform_values { |moves| moves.map(&:first) }) { |_, some, more| some | more }
        keys.flat_map { |part, touched| touched.map { |key| "#{part}/#{key}" } }
      end

      # @param changes [Hash{String => Hash{String => Object, nil}}] part => {key => value}
      # @param moves [Hash{String => Array}] part => see Order
      # @return [Show]
      def put(show, changes, moves = {})
        (changes.keys | moves.keys).reduce(show) { |now, name| self[name].put(now, changes.fetch(name, {}), moves.fetch(name, [])) }
      end

      # The show without things that are gone and what hangs on them: what names them goes too,
      # or lets go of them (see Part#without).
      #
      # @yield [String] whether a place, port, row or device is gone
      # @return [Show]
      def without(show, &gone)
        put(show, ALL.to_h { |part| [part.name, left(part, part.read(show), &gone)] }.reject { |_, values| values.empty? })
      end

      # @return [Patch::Scene]
      def scene_without(scene, &gone)
        OF_PATCH.reduce(scene) { |now, part| part.in_scene(now, left(part, part.of_scene(now), &gone)) }
      end

      # @return [Hash] a patch as it stands in a show file
      def patch_data(scene) = OF_PATCH.to_h { |part| [part.name.to_sym, part.to_file(scene)] }

      # @param data [Hash] string keys
      # @return [Patch::Scene]
      def patch(data) = Patch::Scene.new(**OF_PATCH.to_h { |part| [part.name.to_sym, part.from_file(data[part.name])] })

      def differing(part, before, after)
        return {} if part.same?(before, after)

        before, after = part.read(before), part.read(after)
        (before.keys | after.keys).select { |key| part.differs?(before[key], after[key]) }.to_h { |key| [key, [before[key], after[key]]] }
      end

      def left(part, values, &gone)
        values.to_h { |key, value| [key, part.without(key, value, &gone)] }.reject { |key, value| value.equal?(values[key]) }
      end
      private_class_method :differing, :left
    end
  end
end
