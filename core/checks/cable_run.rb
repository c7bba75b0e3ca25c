# frozen_string_literal: true

module Loomshuttle
  module Checks
    # A cable is longer than its standard allows, or of a kind that it should not run on.
    module CableRun
      HANGS_ON = ->(show) { [show.rig] }

      module_function

      def findings(show) = show.rig.cables.flat_map { |cable| [too_long(show, cable), wrong_kind(show, cable)].compact }

      def too_long(show, cable)
        standard = weakest(show, cable)
        return nil if cable.length_m <= standard.length_max_m

        Finding.new(rule: "cable",
          severity: "warn",
          step: "rig",
          title: "#{cable.length_m} m is too long for #{standard.name}",
          what: "The cable from #{words(show, cable)} is #{cable.length_m} m long; #{standard.name} is good for #{standard.length_max_m} m.",
          why: standard.digital ? "It works on the bench and drops out when the room is full and warm." : "It picks up hum and loses treble.",
          variant: "length", about: {length_m: cable.length_m, standard: standard.name},
          endpoints: [cable.a, cable.b])
      end

      # A balanced input cannot help an unbalanced output: the weaker end decides.
      def weakest(show, cable) = cable.ends.map { |name| Rig::Standard[show.rig.port(name).last.standard] }.min_by(&:length_max_m)

      def wrong_kind(show, cable)
        standard = weakest(show, cable)
        microphone = standard.name == "AES3" && plain(cable.kind) == plain("microphone cable")
        return nil if !microphone && (cable.kind.empty? || standard.cables.any? { |kind| plain(kind) == plain(cable.kind) } || !standard.digital)

        Finding.new(rule: "cable",
          severity: microphone ? "warn" : "note",
          step: "rig",
          title: "#{standard.name} runs on #{cable.kind}",
          what: "The cable from #{words(show, cable)} is #{cable.kind}; #{standard.name} wants #{standard.cables.first}.",
          why: "Its impedance is another, so that edges of the signal are rounded and long runs fail.",
          variant: "kind", about: {kind: cable.kind, standard: standard.name},
          endpoints: [cable.a, cable.b],
          mend: Mend.new(label: "It is #{standard.cables.first}", edits: [Edits::SetCable.of(cable.with(kind: standard.cables.first))]))
      end

      # "cat5e" is "Cat 5e".
      def plain(kind) = kind.downcase.gsub(/[^a-z0-9]/, "")

      def words(show, cable)
        cable.ends.map { |name| show.rig.port(name).then { |device, port| "#{device.name} #{port.label}" } }.join(" to ")
      end
      private_class_method :too_long, :weakest, :wrong_kind, :plain, :words
    end
  end
end
