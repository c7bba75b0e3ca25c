# frozen_string_literal: true

module Loomshuttle
  module Engine
    module Device
      module Alsa
        # What a device may be set to, for as long as a block runs.
        module Params
          module_function

          # @yield [FFI::Pointer] everything that the device can do
          # @raise [Lost]
          def use(handle)
            pointer = FFI::MemoryPointer.new(:pointer)
            Library.snd_pcm_hw_params_malloc(pointer)
            params = pointer.read_pointer
            error = Library.snd_pcm_hw_params_any(handle, params)
            raise Lost, Library.words(error) if error.negative?

            yield params
          ensure
            Library.snd_pcm_hw_params_free(params) if params
          end
        end
      end
    end
  end
end
