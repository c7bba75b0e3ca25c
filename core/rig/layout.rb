# frozen_string_literal: true

module Loomshuttle
  module Rig
    # All gear of a show and the many-lane cables between it.
    #
    #   rig.family_of("desk/channel/9").taps
    #   rig.label("box-a/mic/9")              # => "Box A socket 9"
    class Layout < Value.of(:devices, :cables)
      include Value::Memo

      def self.empty = new(devices: {}.freeze, cables: [].freeze)

      # @return [Place, nil] nil where the rig cannot name it
      def place(id) = places[id]

      def device_of(id) = places[id]&.device || devices[Endpoint.parse(id).device]

      # Things by the device of their place, in order. By its id: a device is a large key.
      #
      # @yield [Object] its place
      # @return [Array<Array(Device, Array)>]
      def by_device(things) = things.group_by { |thing| device_of(yield(thing)).id }.map { |id, some| [devices[id], some] }

      def family_of(id) = places[id]&.family || Endpoint.parse(id).then { |endpoint| devices[endpoint.device]&.family(endpoint.family) }
      def field_of(id) = places[id]&.field || Endpoint.parse(id).then { |endpoint| devices[endpoint.device]&.field(endpoint.family) }
      def kind_of(id) = places[id]&.family&.kind

      # @return [Set<String>] every place of a kind
      def ids_of(kind) = once([:ids_of, kind]) { places.each_value.select { |place| place.kind == kind }.to_set(&:id).freeze }

      # True when a patch can name the place, even if this model lacks it.
      def named?(id) = places.key?(id)
      def present?(id) = places[id]&.present? || false

      # The place in words, as it is said on stage.
      def label(id)
        place = places[id] or return label_beyond(id)
        once([:label, id]) { words(place.device, place.family, place.number) }
      end

      def listeners = once(:listeners) { devices.values.select(&:listener?) }

      # Where something is heard: the places of a listener, or of all of them.
      #
      # @return [Array<String>]
      def heard_at(device) = once([:heard_at, device.id]) { device.profile.families.each_value.flat_map { |family| all_of_family(device, family) }.freeze }

      def listening = once(:listening) { listeners.flat_map { |device| heard_at(device) }.freeze }

      # The first device of a kind.
      def first_of(kind) = devices.values.find { |device| device.profile.kind == kind }
      def all_of(*kinds) = devices.values.select { |device| kinds.include?(device.profile.kind) }

      # @param name [String] "device/port"
      # @return [Array(Device, Port), nil]
      def port(name)
        device_id, port_name = name.split("/", 2)
        port = devices[device_id]&.profile&.ports&.[](port_name)
        port && [devices[device_id], port]
      end

      # @return [Array<Cable>] plugged in at "device/port"
      def cables_at(name)
        once(:by_end) {
          cables.flat_map { |cable| cable.ends.uniq.map { |at| [at, cable] } }.group_by(&:first).transform_values do |pairs|
            pairs.map(&:last)
          end
        }.fetch(name, [])
      end

      # Lanes each way that a cable carries at a sample rate, by its ports and their modes.
      def lanes_of(cable, rate_hz)
        ends = cable.ends.map { |name| port(name) }
        [*ends.map { |device, end_port| device.lanes_at(end_port, rate_hz) }, cable.lanes].compact.min
      end

      # Every place that the rig can name.
      #
      # @return [Hash{String => Place}]
      def places
        once(:places) do
          devices.each_value.with_object({}) do |device, found|
            device.profile.families.each_value { |family| (1..family.count).each { |number| add(found, device, family, number) } }
          end.freeze
        end
      end

      private

      def all_of_family(device, family) = (1..family.count).map { |number| Endpoint.id(device.id, family.name, number) }

      def add(found, device, family, number)
        id = Endpoint.id(device.id, family.name, number).freeze
        found[id] = Place.new(id, device, family, number).freeze
      end

      def label_beyond(id)
        endpoint = Endpoint.parse(id)
        device = devices[endpoint.device]
        family = device&.family(endpoint.family)
        return words(device, family, endpoint.number) if family

        # A desk of another model may tell of places that the one in this rig has not.
        device ? [device.name, endpoint.family.tr("-", " "), endpoint.number].join(" ") : id
      end

      def words(device, family, number)
        return device.name if device.listener? && family.count == 1
        return "#{device.name} #{family.label[number.to_i - 1] || number}" if device.listener?

        (family.prefixed || several?(device)) ? "#{device.name} #{family.label} #{number}" : "#{family.label} #{number}"
      end

      # With two desks "channel 9" says too little.
      def several?(device)
        once([:several, device.profile.kind]) { devices.values.count { |other| other.profile.kind == device.profile.kind } > 1 }
      end
    end
  end
end
