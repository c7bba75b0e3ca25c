# frozen_string_literal: true

require "ffi"

module Loomshuttle
  module Engine
    module Device
      module Alsa
        # As much of libasound as a device port needs. Calls that may wait let the other threads
        # go on (`blocking: true`). Where the library is not installed, `there?` says so.
        module Library
          extend FFI::Library

          CAPTURE = 1
          PLAYBACK = 0
          NONBLOCK = 1
          INTERLEAVED = 3
          # snd_pcm_format_t of the little-endian ones, with bytes a sample.
          FORMATS = {"S32_LE" => [10, 4], "S24_3LE" => [32, 3], "S16_LE" => [2, 2]}.freeze
          EAGAIN = -Errno::EAGAIN::Errno
          EPIPE = -Errno::EPIPE::Errno
          # The machine slept.
          ESTRPIPE = -86

          begin
            ffi_lib "libasound.so.2"
            @there = true
          rescue LoadError
            @there = false
          end

          def self.there? = @there

          # name, arguments, what it answers; the last word: it may wait
          CALLS = [
            [:snd_pcm_open, %i[pointer string int int], :int, true],
            [:snd_pcm_close, [:pointer], :int, true],
            [:snd_pcm_prepare, [:pointer], :int, true],
            [:snd_pcm_start, [:pointer], :int, true],
            [:snd_pcm_drop, [:pointer], :int, true],
            [:snd_pcm_link, %i[pointer pointer], :int, false],
            [:snd_pcm_wait, %i[pointer int], :int, true],
            [:snd_pcm_readi, %i[pointer pointer ulong], :long, true],
            [:snd_pcm_writei, %i[pointer pointer ulong], :long, true],
            [:snd_pcm_delay, %i[pointer pointer], :int, false],
            [:snd_pcm_hw_params_malloc, [:pointer], :int, false],
            [:snd_pcm_hw_params_free, [:pointer], :void, false],
            [:snd_pcm_hw_params_any, %i[pointer pointer], :int, false],
            [:snd_pcm_hw_params_set_access, %i[pointer pointer int], :int, false],
            [:snd_pcm_hw_params_set_format, %i[pointer pointer int], :int, false],
            [:snd_pcm_hw_params_test_format, %i[pointer pointer int], :int, false],
            [:snd_pcm_hw_params_set_channels, %i[pointer pointer uint], :int, false],
            [:snd_pcm_hw_params_get_channels_max, %i[pointer pointer], :int, false],
            [:snd_pcm_hw_params_set_rate, %i[pointer pointer uint int], :int, false],
            [:snd_pcm_hw_params_test_rate, %i[pointer pointer uint int], :int, false],
            [:snd_pcm_hw_params_set_rate_resample, %i[pointer pointer uint], :int, false],
            [:snd_pcm_hw_params_set_period_size_near, %i[pointer pointer pointer pointer], :int, false],
            [:snd_pcm_hw_params_set_buffer_size_near, %i[pointer pointer pointer], :int, false],
            [:snd_pcm_hw_params_get_buffer_size_min, %i[pointer pointer], :int, false],
            [:snd_pcm_hw_params_get_buffer_size_max, %i[pointer pointer], :int, false],
            [:snd_pcm_hw_params, %i[pointer pointer], :int, true],
            [:snd_card_next, [:pointer], :int, false],
            [:snd_card_get_name, %i[int pointer], :int, false],
            [:snd_ctl_open, %i[pointer string int], :int, true],
            [:snd_ctl_close, [:pointer], :int, false],
            [:snd_ctl_pcm_next_device, %i[pointer pointer], :int, false],
            [:snd_strerror, [:int], :string, false]
          ].freeze
          CALLS.each { |name, arguments, answer, waits| attach_function(name, arguments, answer, blocking: waits) } if @there
          private_constant :CALLS

          module_function

          # @return [String] what an error number means
          def words(error) = there? ? snd_strerror(error) : "libasound is not installed"
        end
      end
    end
  end
end
