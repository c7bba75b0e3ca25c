# frozen_string_literal: true

module Loomshuttle
  module Engine
    module Device
      module Alsa
        # Which devices ALSA knows, and what each can do. One that is busy or broken is listed with
        # what it said.
        module Cards
          RATES_HZ = Audio::Scale::SAMPLE_RATES_HZ
          # More than any interface has; plugins name as many as one likes.
          LANES_MAX = 512
          private_constant :RATES_HZ, :LANES_MAX

          module_function

          # @param more [Array<String>] PCM names beside the cards' own, e.g. "pulse"
          # @return [Array<Hash>] kind, id, label, lanes_in, lanes_out, rates_hz, formats,
          #   buffers_frames (smallest, largest), fault
          def list(more: [])
            return [] unless Library.there?

            (cards + more.map { |name| {id: name, label: name} }).map { |card| {kind: "alsa", **card, **able(card[:id])} }
          end

          def cards
            found = []
            number = FFI::MemoryPointer.new(:int).write_int(-1)
            while Library.snd_card_next(number).zero? && number.read_int >= 0
              found.concat(devices(number.read_int))
            end
            found
          end

          def devices(card)
            control = FFI::MemoryPointer.new(:pointer)
            return [] if Library.snd_ctl_open(control, "hw:#{card}", 0).negative?

            numbers = []
            device = FFI::MemoryPointer.new(:int).write_int(-1)
            numbers << device.read_int while Library.snd_ctl_pcm_next_device(control.read_pointer, device).zero? && device.read_int >= 0
            numbers.map { |number| {id: "hw:#{card},#{number}", label: numbers.one? ? name(card) : "#{name(card)}, #{number + 1}"} }
          ensure
            Library.snd_ctl_close(control.read_pointer) if control && !control.read_pointer.null?
          end

          def name(card)
            pointer = FFI::MemoryPointer.new(:pointer)
            return "card #{card}" if Library.snd_card_get_name(card, pointer).negative?

            pointer.read_pointer.read_string.force_encoding("UTF-8").scrub("?")
          end

          def able(id)
            input, output = [Library::CAPTURE, Library::PLAYBACK].map { |direction| look(id, direction) }
            both = [input, output].compact.reject { |one| one[:fault] }
            return {lanes_in: nil, lanes_out: nil, rates_hz: [], formats: [], buffers_frames: [], fault: (input || output)&.fetch(:fault, nil)} if both.empty?

            fault = [input, output].compact.map { |one| one[:fault] }.compact.first
            {lanes_in: input && input[:lanes], lanes_out: output && output[:lanes], rates_hz: both.map { |one| one[:rates_hz] }.inject(:&),
             formats: both.map { |one| one[:formats] }.inject(:&), buffers_frames: both.first[:buffers_frames], fault: fault}
          end

          def look(id, direction)
            handle = Pcm.open(id, direction)
            Params.use(handle) { |params| of(handle, params) }
          rescue Lost => e
            {fault: e.message}
          ensure
            Library.snd_pcm_close(handle) if handle
          end

          def of(handle, params)
            lanes = FFI::MemoryPointer.new(:uint)
            Library.snd_pcm_hw_params_get_channels_max(params, lanes)
            {lanes: [lanes.read_uint, LANES_MAX].min,
             rates_hz: RATES_HZ.select { |rate| Library.snd_pcm_hw_params_test_rate(handle, params, rate, 0).zero? },
             formats: Library::FORMATS.select { |_, (number, _)| Library.snd_pcm_hw_params_test_format(handle, params, number).zero? }.keys,
             buffers_frames: %i[snd_pcm_hw_params_get_buffer_size_min snd_pcm_hw_params_get_buffer_size_max].map { |call| size(call, params) }}
          end

          def size(call, params)
            pointer = FFI::MemoryPointer.new(:ulong)
            Library.public_send(call, params, pointer)
            [pointer.read_ulong, 2**31 - 1].min
          end
          private_class_method :cards, :devices, :name, :able, :look, :of, :size
        end
      end
    end
  end
end
