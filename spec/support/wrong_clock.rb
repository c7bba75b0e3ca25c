# frozen_string_literal: true

# A clock of the day that can be set while a process runs, for that process alone: Debian's
# libfaketime, which reads how far off it is from a file. What counts up since the machine was
# started is left as it is, as it is when somebody sets a machine's clock.
#
#   clock = WrongClock.new(folder)
#   installation.start("engine", environment: clock.environment)
#   clock.set(-7200)
class WrongClock
  LIBRARY = Dir["/usr/lib/*/faketime/libfaketimeMT.so.1"].first

  def initialize(folder)
    @file = File.join(folder, "off")
    set(0)
  end

  # @param off_s [Integer] how far from the right time
  def set(off_s) = File.write(@file, format("%+d", off_s))

  # Without the last one every wait of a thread ends at once, and the process turns over two cores.
  def environment
    {"LD_PRELOAD" => LIBRARY, "FAKETIME_TIMESTAMP_FILE" => @file, "FAKETIME_CACHE_DURATION" => "1", "FAKETIME_DONT_FAKE_MONOTONIC" => "1", "DONT_FAKE_MONOTONIC" => "1",
     "FAKETIME_FORCE_MONOTONIC_FIX" => "0"}
  end
end
