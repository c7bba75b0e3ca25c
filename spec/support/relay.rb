# frozen_string_literal: true

require "socket"

# Stands between a browser and the server, as the air does: out of range nothing passes, either way, and nothing says so;
# back in range what was sent meanwhile arrives.
#
#   relay = Relay.new(4567)
#   relay.address        # => "http://127.0.0.1:40123"
#   relay.out_of_range { ... }
class Relay
  PASSED_BYTES = 65_536

  # @param port [Integer] of the server, on loopback
  def initialize(port)
    @port = port
    @listener = TCPServer.new("127.0.0.1", 0)
    @lock, @back = Mutex.new, ConditionVariable.new
    @threads = [Thread.new { accept }]
  end

  def address = "http://127.0.0.1:#{@listener.addr[1]}"

  def out_of_range
    @lock.synchronize { @away = true }
    yield
  ensure
    @lock.synchronize { @away = false }
    @back.broadcast
  end

  def close
    @listener.close
    @threads.each(&:kill)
  end

  private

  def accept
    loop do
      browser = @listener.accept
      server = TCPSocket.new("127.0.0.1", @port)
      @threads.push(Thread.new { pass(browser, server) }, Thread.new { pass(server, browser) })
    end
  rescue IOError, SystemCallError
    nil
  end

  def pass(from, to)
    loop do
      bytes = from.readpartial(PASSED_BYTES)
      @lock.synchronize { @back.wait(@lock) while @away }
      to.write(bytes)
    end
  rescue IOError, SystemCallError
    [from, to].each(&:close)
  end
end
