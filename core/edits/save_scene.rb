# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Keeps the present patch under a name, or (remove: true) takes a scene away.
    SaveScene = Edit.of("scene", name: :text, remove: [:flag, false]) do
      def apply(show)
        name = self.name.strip
        fault = Capture::Row.fault(:name, name)
        return Refusal.new(field: "name", value: name, allowed: fault, why: "A scene's name has #{fault}.") if fault
        return show.with(scenes: show.scenes.merge(name => show.patch).freeze) unless remove
        unless show.scenes.key?(name)
          return Refusal.new(field: "name", value: name, allowed: show.scenes.keys.join(", "), why: "There is no scene \"#{name}\".")
        end

        show.with(scenes: show.scenes.except(name).freeze)
      end
    end
  end
end
