# frozen_string_literal: true

module Loomshuttle
  class Show
    module Parts
      # Cables between ports.
      class Cables < Part
        def form = :list
        def ordered? = true
        def read(show) = show.rig.once(:cables_by_id) { show.rig.cables.to_h { |cable| [cable.id, cable] }.freeze }
        def put(show, values, moves) = show.with(rig: show.rig.with(cables: merged(read(show), values, moves).values.freeze))
        def same?(before, after) = before.rig.equal?(after.rig) || before.rig.cables.equal?(after.rig.cables)
        def encode(value) = value.to_h
        def decode(data, _profiles) = Rig::Cable.new(kind: "", length_m: 0, **data.transform_keys(&:to_sym))
        def subject(_show, _key, value) = "The cable from #{value.ends.join(" to ")}"
        def without(_key, value) = (value.ends.any? { |port| yield port }) ? nil : value
      end
    end
  end
end
