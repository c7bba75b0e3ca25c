# frozen_string_literal: true

module Loomshuttle
  class Show
    # A short checksum of a show's gear and sources, without its patch: by it server and
    # simulated stage know whether the same gear stands there, also after either was started
    # anew. Equal gear has equal ones, in whatever order its fields were written.
    #
    #   GearSum.of(show)   # => "5f0c2a..."
    module GearSum
      module_function

      # @return [String] 16 hexadecimal digits
      def of(show)
        show.rig.once([:gear_sum, show.sample_rate_hz, show.rows.keys]) do
          devices = show.rig.devices.values.map { |device| device.to_h.merge(profile: device.profile.to_data) }
          told = [show.sample_rate_hz, show.rows.keys, devices, show.rig.cables.map(&:to_h)]
          Digest::SHA256.hexdigest(JSON.generate(sorted(told)))[0, 16]
        end
      end

      def sorted(value)
        case value
        when Hash then value.to_a.map { |key, one| [key.to_s, sorted(one)] }.sort_by(&:first)
        when Array then value.map { |one| sorted(one) }
        when Numeric then value.to_f
        else value
        end
      end
      private_class_method :sorted
    end
  end
end
