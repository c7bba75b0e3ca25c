# frozen_string_literal: true

require "tmpdir"

module Loomshuttle
  module Cli
    # Whether this machine is fit to record: each thing that costs shows is looked at, and where
    # it is not right, what to do about it.
    #
    #   Doctor.new(lanes: 32, folder: "data").report   # => [{about:, fine:, found:, advice:}, ...]
    class Doctor
      RATE_HZ = 48_000
      # A disk must be so many times as fast as it is written to: it has other things to do too.
      REASONABLE = 3
      # Written to measure it, on the disk that takes go to.
      TRIAL_BYTES = 64 * 1024 * 1024
      HOUR_S = 3600
      private_constant :RATE_HZ, :REASONABLE, :TRIAL_BYTES, :HOUR_S

      # @param lanes [Integer] to be recorded
      # @param folder [String] where takes will lie
      def initialize(lanes:, folder:)
        raise BadInput.new(field: "lanes", value: lanes, allowed: "1 to 1024") unless lanes.between?(1, 1024)
        raise BadInput.new(field: "folder", value: folder, allowed: "a folder that is there") unless File.directory?(folder)

        @lanes, @folder = lanes, folder
      end

      # @return [Array<Hash>] about, fine, found, advice (nil where it is fine)
      def report = [disk_speed, room, memory, priority, power, device, clock, front_door]

      private

      def rate = Capture::DiskBudget.rate_bytes_per_s(@lanes, RATE_HZ)
      def said(about, fine, found, advice) = {about: about, fine: fine, found: found, advice: fine ? nil : advice}

      def disk_speed
        speed = TRIAL_BYTES / written_s
        said("disk speed", speed >= REASONABLE * rate, "#{(speed / 1e6).round} MB/s written and synced, #{@lanes} lanes need #{(rate / 1e6).round(1)} MB/s",
          "record to a faster disk, or fewer tracks; at least #{REASONABLE} times what is needed is wanted")
      rescue SystemCallError => e
        said("disk speed", false, e.message, "make the folder writable, or name another one with --folder")
      end

      def written_s
        Dir.mktmpdir("doctor", @folder) do |folder|
          piece = "\0" * (1024 * 1024)
          start_s = now_s
          File.open(File.join(folder, "trial"), "wb") do |file|
            (TRIAL_BYTES / piece.bytesize).times { file.write(piece) }
            file.fdatasync
          end
          now_s - start_s
        end
      end

      def room
        free = Runtime::Disk.free_bytes(@folder) || 0
        left_s = Capture::DiskBudget.seconds_left(free, @lanes, RATE_HZ)
        said("room", left_s >= 2 * HOUR_S, "#{(free / 1e9).round} GB free: #{(left_s / HOUR_S).round(1)} h of #{@lanes} lanes", "make room for at least two hours, or record to another disk")
      end

      def memory
        available = File.read("/proc/meminfo")[/MemAvailable:\s+(\d+)/, 1].to_i * 1024
        wanted = 700_000_000 + rate * 38
        said("memory", available >= wanted, "#{available / 1_000_000} MB available, #{wanted / 1_000_000} MB wanted with 30 s of pre-roll", "close other programs, or set the pre-roll to 0")
      rescue SystemCallError
        said("memory", false, "not known on this system", "look at it by hand")
      end

      def priority
        limit = Process.getrlimit(:RTPRIO).first
        said("real-time priority", limit > 0 || Process.uid.zero?, "up to #{Process.uid.zero? ? 99 : limit} may be asked for", "add the user to a group with \"rtprio\" in /etc/security/limits.d; see docs/real-device.md")
      rescue ArgumentError
        said("real-time priority", false, "not known on this system", "see docs/real-device.md")
      end

      def power
        governors = Dir["/sys/devices/system/cpu/cpu*/cpufreq/scaling_governor"].map { |path| File.read(path).strip }.uniq
        return said("power saving", true, "this machine does not say that it saves power", nil) if governors.empty?

        said("power saving", governors == ["performance"], "the processor's governor is #{governors.join(", ")}", "set it to performance while recording: cpupower frequency-set -g performance")
      end

      def device
        cards = Engine::Device::Alsa::Cards.list
        return said("device", false, "no audio interface is seen by ALSA", "plug the interface in; the simulated desk works without one") if cards.empty?

        enough = cards.select { |card| card[:lanes_in].to_i >= @lanes && card[:rates_hz].include?(RATE_HZ) }
        said("device", enough.any?, cards.map { |card| "#{card[:label]}: #{card[:lanes_in] || "no"} lanes in" }.join("; "), "an interface that shows two lanes is in its two-lane mode; set it to its many-lane mode")
      end

      def clock
        source = "/sys/devices/system/clocksource/clocksource0/current_clocksource"
        name = File.file?(source) ? File.read(source).strip : "not known"
        said("clock", !%w[jiffies refined-jiffies not\ known].include?(name), "the machine counts time by #{name}", "boot with another clocksource, such as tsc or hpet")
      end

      def front_door
        place = Enterable.for_nginx(@folder)
        found = "what others send and fetch passes through #{place.folder}"
        found += ", because nginx may not enter #{File.expand_path(@folder)}" unless place.itself?
        said("letting others in", place.fault.nil?, found, place.fault)
      end

      def now_s = Process.clock_gettime(Process::CLOCK_MONOTONIC)
    end
  end
end
