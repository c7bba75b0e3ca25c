# frozen_string_literal: true

require "openssl"
require "socket"
require "timeout"

# HTTP/1.1 by hand, so that a request line goes out as it is written: every client of a library tidies it. Many
# requests go out at once; where the other side hangs up after an answer, the rest goes out on a new line.
class Wire
  MANY = 64
  # What is not answered by then is a line that was opened.
  ANSWER_S = 60

  # @param headers [Hash] of each request
  def initialize(address, port, tls: false, headers: {})
    @address, @port, @tls = address, port, tls
    @headers = {"Host" => "#{address}:#{port}", **headers}
  end

  # @param asked [Array<Array(String, String)>] method and target; each with the body {}
  # @return [Array<Integer>] their statuses, in order
  def statuses(asked)
    asked.each_slice(MANY).flat_map { |some| answered(some) }
  ensure
    hang_up
  end

  private

  def answered(asked)
    got = []
    while got.size < asked.size
      line = open_line
      before = got.size
      begin
        line.write(asked.drop(got.size).map { |method, target| request(method, target) }.join)
        while @line && got.size < asked.size
          method, target = asked[got.size]
          got << Timeout.timeout(ANSWER_S, nil, "no end of an answer to #{method} #{target}") { status(line, method) }
        end
      rescue SystemCallError, EOFError, OpenSSL::SSL::SSLError
        hang_up
        raise "#{asked[got.size]} was not answered" if got.size == before && @again

        @again = got.size == before
      end
    end
    @again = false
    got
  end

  def request(method, target)
    headers = {**@headers, "Content-Type" => "application/json", "Content-Length" => "2"}
    "#{method} #{target} HTTP/1.1\r\n#{headers.map { |name, value| "#{name}: #{value}\r\n" }.join}\r\n{}"
  end

  def status(line, method)
    head = line.gets("\r\n\r\n") or raise EOFError
    length = head[/^content-length: (\d+)/i, 1].to_i
    line.read(length) unless method == "HEAD"
    hang_up if head.match?(/^connection: close/i) || !head.match?(/^content-length:/i)
    head[/\AHTTP\S+ (\d+)/, 1].to_i
  end

  def open_line
    @line ||= TCPSocket.new(@address, @port).then { |socket| @tls ? secure(socket) : socket }
  end

  def secure(socket)
    context = OpenSSL::SSL::SSLContext.new.tap { |one| one.verify_mode = OpenSSL::SSL::VERIFY_NONE }
    OpenSSL::SSL::SSLSocket.new(socket, context).tap { |line| line.sync_close = true }.connect
  end

  def hang_up
    @line&.close
    @line = nil
  rescue SystemCallError, OpenSSL::SSL::SSLError
    @line = nil
  end
end
