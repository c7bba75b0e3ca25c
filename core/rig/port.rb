# frozen_string_literal: true

module Loomshuttle
  module Rig
    # A socket for a many-lane cable. `lanes_in` and `lanes_out` name the families that
    # the cable fills and empties. `modes` says how many lanes each way the link carries in
    # each of its modes at each sample-rate family: {"32x32" => {48 => 32, 96 => 16}}; the
    # first mode is the one that a new device is in. A shared port is a field of single
    # sockets that several looms may plug into.
    STANDARDS = /\A(?:aes\d*|madi|usb|adat)\z/
    Port = Value.of(:name, :standard, :lanes_in, :lanes_out, :modes, shared: false) do
      def lanes_at(rate_hz, mode = nil) = modes.fetch(mode || modes.keys.first, modes.values.first).fetch(Standard.rate_family(rate_hz), 0)

      # What people read: names of standards as the standards write them, "AES50 A" for "aes50-a".
      def label = name.split("-").map { |part| (part.size == 1 || part.match?(STANDARDS)) ? part.upcase : part }.join(" ")

      # The mode that carries most.
      def widest(rate_hz) = modes.keys.max_by { |mode| lanes_at(rate_hz, mode) }
      def digital? = Standard[standard]&.digital != false
    end
  end
end
