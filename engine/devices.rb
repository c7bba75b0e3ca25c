# frozen_string_literal: true

module Loomshuttle
  module Engine
    # The devices that this machine can record from: the simulated desk's card, and whatever
    # ALSA knows. Which one was chosen is kept beside the data, so that an engine that starts
    # again opens the same.
    #
    #   devices = Devices.new(standin_path: "data/run/card.sock", chosen_path: "data/run/device.json")
    #   runner = Runner.new(devices.chosen, ...)
    class Devices
      STANDIN = {"kind" => "standin"}.freeze

      # @param standin_path [String] socket of the simulated card
      # @param chosen_path [String] a JSON file
      # @param alsa_names [Array<String>] ALSA's PCMs beside its cards that may be chosen
      def initialize(standin_path:, chosen_path:, alsa_names: [])
        @standin_path = standin_path
        @chosen_path = chosen_path
        @alsa_names = alsa_names
      end

      # @return [Array<Hash>] kind, id, label, chosen, and what an ALSA device can do
      def list
        now = kept || STANDIN
        all = [{kind: "standin", id: "standin", label: "The simulated desk's card"}, *Device::Alsa::Cards.list(more: @alsa_names)]
        all.map { |one| one.merge(chosen: one[:kind] == now["kind"] && [nil, one[:id]].include?(now["id"])) }
      end

      # @param wish [Hash] kind and settings, string keys; kept for the next start
      # @return [Device]
      # @raise [BadInput]
      def device(wish)
        made(wish).tap { keep(wish) }
      end

      # @yield [String] words where another one is opened than was chosen
      # @return [Device] the one that was chosen last
      def chosen
        made(kept || raise(BadInput.new(field: "device", value: File.basename(@chosen_path), allowed: "a file that can be read")))
      rescue BadInput => e
        yield "The audio device that was chosen cannot be opened as it was (#{e.message}): the simulated desk's card is in its place. Choose it again on the Rig." if block_given?
        made(STANDIN)
      end

      private

      # @return [Hash, nil] nil where one was chosen, and which cannot be read
      def kept = File.exist?(@chosen_path) ? KeptFile.read(@chosen_path) : STANDIN

      def made(wish)
        case wish["kind"]
        when "standin" then Device::SocketDevice.new(path: @standin_path)
        when "alsa" then alsa(wish)
        else raise BadInput.new(field: "device", value: wish["kind"], allowed: "standin or alsa")
        end
      end

      # ALSA takes whole programs as a name ("file:..."): only what is listed is opened.
      def alsa(wish)
        allowed = wish["id"].to_s.match?(/\Ahw:\d+,\d+\z/) || @alsa_names.include?(wish["id"])
        raise BadInput.new(field: "id", value: wish["id"], allowed: "a device of the list") unless allowed

        Device::AlsaDevice.new(wish)
      end

      # After a power cut the same device must be opened.
      def keep(wish) = KeptFile.write(@chosen_path, JSON.generate(wish))
    end
  end
end
