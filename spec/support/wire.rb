# frozen_string_literal: true

require "openssl"
require "socket"
require "timeout"

# HTTP/1.1 by hand, so that a request line goes out as it is written: every client of a library tidies it. Many
# requests go out at once; where the other side hangs up after an answer, the rest goes out on a new line.
class Wire
  MANY = 64
  # So many of them that are not answered by then: one is a line that was opened.
  ANSWER_S = 60

  # @param headers [Hash] of each request
  def initialize(address, port, tls: false, headers: {})
    @address, @port, @tls = address, port, tls
    @headers = {"Host" => "#{address}:#{port}", "Content-Type" => "application/json", "Content-Length" => "2", **headers}.map { |name, value| "#{name}: #{value}\r\n" }.join
  end

  # @param asked [Array<Array(String, String)>] method and target; each with the body {}
  # @return [Array<Integer>] their statuses, in order
  def statuses(asked)
    asked.each_slice(MANY).flat_map { |some| in_time(some) }
  ensure
    hang_up
  end

  private

  def in_time(asked)
    got = []
    Timeout.timeout(ANSWER_S) { answered(asked, got) }
  rescue Timeout::Error
    raise "no end of an answer to #{asked[got.size].join(" ")}"
  end

  def answered(asked, got)
    while got.size < asked.size
      line = open_line
      before = got.size
      begin
        some = asked[got.size, @many || MANY]
        line.write(some.map { |method, target| request(method, target) }.join)
        some.each { |method,| got << status(line, method) if @line }
        # Where it hangs up after each, what went out behind it was for nothing.
        @many = @line ? MANY : [got.size - before, 1].max
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
    "#{method} #{target} HTTP/1.1\r\n#{@headers}\r\n{}"
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

  # A line after the first goes on with what was agreed on: keys are not made anew thousands of times.
  def secure(socket)
    @context ||= OpenSSL::SSL::SSLContext.new.tap { |one| one.verify_mode = OpenSSL::SSL::VERIFY_NONE }
    OpenSSL::SSL::SSLSocket.new(socket, @context).tap do |line|
      line.sync_close = true
      line.session = @session if @session
      line.connect
    end
  end

  def hang_up
    @session = @line.session if @tls && @line
    @line&.close
    @line = nil
  rescue SystemCallError, OpenSSL::SSL::SSLError
    @line = nil
  end
end
