# frozen_string_literal: true

module Loomshuttle
  module Engine
    module Device
      module Alsa
        # One direction of an ALSA device: opened exactly as it is wanted, or refused with what it
        # can do. Never waits longer than it is told to.
        class Pcm
          # What is wanted: name is ALSA's, e.g. "hw:0,0".
          Wish = Value.of(:name, :rate_hz, :lanes, :format, :block_frames, :buffer_frames)

          # @param direction [Integer] Library::CAPTURE or PLAYBACK
          # @raise [Lost]
          def initialize(wish, direction)
            @wish = wish
            @sample_bytes = Library::FORMATS.fetch(wish.format).last
            @handle = Pcm.open(wish.name, direction)
            configure
            @memory = FFI::MemoryPointer.new(:char, wish.block_frames * frame_bytes)
          rescue Lost
            close
            raise
          end

          # @return [FFI::Pointer]
          # @raise [Lost]
          def self.open(name, direction)
            raise Lost, "libasound is not installed" unless Library.there?

            pointer = FFI::MemoryPointer.new(:pointer)
            error = Library.snd_pcm_open(pointer, name, direction, Library::NONBLOCK)
            raise Lost, "#{name}: #{Library.words(error)}" if error.negative?

            pointer.read_pointer
          end

          def frame_bytes = @wish.lanes * @sample_bytes
          attr_reader :handle

          def prepare = check(Library.snd_pcm_prepare(@handle), "prepare")
          # One that runs already is fine.
          def start = Library.snd_pcm_start(@handle)

          # @param wait_s [Float]
          # @return [Integer, :late, nil] frames that were read; :late where the device lost some; nil
          #   where none came
          # @raise [Lost]
          def read(into, from_frame, wait_s)
            ready = Library.snd_pcm_wait(@handle, (wait_s * 1000).ceil)
            return nil if ready.zero?

            got = ready.negative? ? ready : Library.snd_pcm_readi(@handle, @memory, @wish.block_frames - from_frame)
            return 0 if got == Library::EAGAIN
            return :late if late?(got)

            check(got, "read")
            into << @memory.read_bytes(got * frame_bytes)
            got
          end

          # @return [Integer, :late] frames that were taken
          # @raise [Lost]
          def write(bytes, wait_s)
            @memory.write_bytes(bytes)
            frames = bytes.bytesize / frame_bytes
            done = 0
            while done < frames
              put = Library.snd_pcm_writei(@handle, @memory + done * frame_bytes, frames - done)
              return :late if late?(put)

              if put == Library::EAGAIN
                return done if Library.snd_pcm_wait(@handle, (wait_s * 1000).ceil).zero?
                next
              end
              done += check(put, "write")
            end
            done
          end

          # @return [Integer, nil] frames between the memory here and the converter
          def delay_frames
            pointer = FFI::MemoryPointer.new(:long)
            Library.snd_pcm_delay(@handle, pointer).zero? ? pointer.read_long : nil
          end

          def close
            handle, @handle = @handle, nil
            return unless handle

            Library.snd_pcm_drop(handle)
            Library.snd_pcm_close(handle)
          end

          private

          def late?(error) = [Library::EPIPE, Library::ESTRPIPE].include?(error)

          def check(error, what)
            raise Lost, "#{@wish.name}: #{what}: #{Library.words(error)}" if error.negative?

            error
          end

          def configure
            Params.use(@handle) do |params|
              check(Library.snd_pcm_hw_params_set_access(@handle, params, Library::INTERLEAVED), "access")
              # Exactly this rate, or none: another one in between would change every sample.
              Library.snd_pcm_hw_params_set_rate_resample(@handle, params, 0)
              want(Library.snd_pcm_hw_params_set_format(@handle, params, Library::FORMATS.fetch(@wish.format).first), "the format #{@wish.format}")
              want(Library.snd_pcm_hw_params_set_channels(@handle, params, @wish.lanes), "#{@wish.lanes} lanes")
              want(Library.snd_pcm_hw_params_set_rate(@handle, params, @wish.rate_hz, 0), "#{@wish.rate_hz} Hz")
              near(:snd_pcm_hw_params_set_period_size_near, params, @wish.block_frames, FFI::MemoryPointer.new(:int))
              near(:snd_pcm_hw_params_set_buffer_size_near, params, @wish.buffer_frames)
              check(Library.snd_pcm_hw_params(@handle, params), "settings")
            end
          end

          def want(error, what)
            raise Lost, "#{@wish.name} does not do #{what}" if error.negative?
          end

          def near(call, params, frames, *more)
            pointer = FFI::MemoryPointer.new(:ulong).write_ulong(frames)
            check(Library.public_send(call, @handle, params, pointer, *more), "buffer")
          end
        end
      end
    end
  end
end
