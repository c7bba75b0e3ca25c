# frozen_string_literal: true

require "fileutils"
require "socket"
require "tmpdir"

# A loop of 32 lanes without a sound card: a private PulseAudio with one null sink whose monitor
# is the default source, reached through ALSA's PCM "pulse". Ended by its id.
class PulseLoop
  CHANNELS = %w[front-left front-right rear-left rear-right front-center lfe side-left side-right].concat((0..23).map { |n| "aux#{n}" }).freeze

  attr_reader :folder

  def initialize(rate_hz: 48_000)
    @folder = Dir.mktmpdir("loomshuttle-pulse")
    FileUtils.mkdir_p([File.join(@folder, "run"), File.join(@folder, ".config/pulse")])
    File.write(File.join(@folder, ".config/pulse/daemon.conf"), "enable-remixing = no\nflat-volumes = no\navoid-resampling = yes\n")
    File.write(File.join(@folder, "loop.pa"), <<~PA)
      load-module module-native-protocol-unix socket=#{socket} auth-anonymous=1
      load-module module-null-sink sink_name=loop format=s32le rate=#{rate_hz} channels=32 channel_map=#{CHANNELS.join(",")}
      set-default-sink loop
      set-default-source loop.monitor
    PA
  end

  def socket = File.join(@folder, "run/sock")
  def environment = {"PULSE_SERVER" => "unix:#{socket}", "HOME" => @folder, "XDG_RUNTIME_DIR" => File.join(@folder, "run")}

  def start
    FileUtils.rm_f(socket)
    @pid = spawn(environment.except("PULSE_SERVER"),
      "pulseaudio", "-n", "-F", File.join(@folder, "loop.pa"), "--exit-idle-time=-1", "--daemonize=no", "--use-pid-file=no", "--disallow-exit",
      %i[out err] => File.join(@folder, "log"))
    deadline = Process.clock_gettime(Process::CLOCK_MONOTONIC) + 60
    sleep 0.05 until answers? || Process.clock_gettime(Process::CLOCK_MONOTONIC) > deadline
    self
  end

  def answers?
    UNIXSocket.new(socket).close
    true
  rescue SystemCallError
    false
  end

  def stop
    return unless @pid

    Process.kill("KILL", @pid)
    Process.wait(@pid)
    @pid = nil
  end

  def remove
    stop
    FileUtils.rm_rf(@folder)
  end
end
