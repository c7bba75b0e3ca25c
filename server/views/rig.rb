# frozen_string_literal: true

module Loomshuttle
  module Server
    module Views
      # The gear as the Rig screen draws it.
      module Rig
        module_function

        def of(show)
          clock = Loomshuttle::Rig::Clock.of(show.rig)
          {sample_rate_hz: show.sample_rate_hz,
           rates_hz: Audio::Scale::SAMPLE_RATES_HZ,
           devices: show.rig.devices.values.map { |device| device_data(show, device, clock) },
           cables: show.rig.cables.map { |cable| cable_data(show, cable) },
           plugs: plugs(show),
           profiles: show.profiles.values.map { |profile| profile.to_h.slice(:name, :label, :kind, :audience, :own) },
           clock: {leaders: clock.leaders.map(&:name), ways: clock.ways, faults: clock.faults.map(&:words)},
           listeners_at: listeners_at(show.rig.first_of("desk"))}
        end

        def device_data(show, device, clock)
          {id: device.id,
           name: device.name,
           profile: device.profile.name,
           profile_label: device.profile.label,
           kind: device.profile.kind,
           audience: device.profile.audience,
           rate_hz: device.rate_hz,
           clock: device.clock,
           clock_arrives: !device.digital? || clock.ways.key?(device.id),
           own: device.profile.own,
           ports: device.profile.ports.values.map { |port| port_data(show, device, port) },
           settings: device.profile.settings.values.map { |setting| {name: setting.name, label: setting.label, choices: setting.choices, value: device.setting(setting.name)} },
           places: device.profile.families.values.reject { |family| family.kind == "lane" }
             .map { |family| {label: family.label, count: family.there} }}
        end

        def port_data(show, device, port)
          {name: port.name,
           label: port.label,
           standard: port.standard,
           digital: port.digital?,
           sends: !port.lanes_out.nil?,
           receives: !port.lanes_in.nil?,
           shared: port.shared,
           modes: port.modes.keys,
           mode: device.modes[port.name] || port.modes.keys.first,
           lanes: device.lanes_at(port, show.sample_rate_hz)}
        end

        def cable_data(show, cable)
          standard = Loomshuttle::Rig::Standard[show.rig.port(cable.a).last.standard]
          {**cable.to_h,
            lines: cable.lanes,
            id: cable.id,
            standard: standard.name,
            length_max_m: standard.length_max_m,
            kinds: standard.cables,
            lanes_by_khz: Loomshuttle::Rig::Standard::RATE_FAMILIES.to_h { |khz| [khz, show.rig.lanes_of(cable, khz * 1000)] },
            **Loomshuttle::Signal::LinkBudget.of(show, cable).slice(:lanes, :a_to_b, :b_to_a),
            lost: Loomshuttle::Signal::LinkBudget.lost(show, cable).size,
            chained: show.rig.port(cable.a).first.profile.kind == "box" && show.rig.port(cable.b).first.profile.kind == "box"}
        end

        # Single cables from sockets to who listens.
        def plugs(show)
          show.patch.slots.select { |slot, _| show.rig.device_of(slot).listener? }
            .map { |slot, take| {from: Endpoint.parse(take.from).device, to: Endpoint.parse(slot).device} }.uniq
        end

        # A desk's meter frame has its channels first, then its mixes.
        def listeners_at(desk) = desk ? ["channel", *desk.profile.mixes].sum { |family| desk.family(family).count } : 0
        private_class_method :listeners_at, :device_data, :port_data, :cable_data, :plugs
      end
    end
  end
end
