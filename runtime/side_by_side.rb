# frozen_string_literal: true

require "etc"

module Loomshuttle
  module Runtime
    # Work of the processor on all cores at once, in processes of their own for as long as it takes. They share what was
    # there before and end without a word to it: what the caller has open stays open, what they open is theirs.
    #
    #   SideBySide.map([1, 2, 3]) { |n| n * n }   # => [1, 4, 9]
    module SideBySide
      PROCESSES = Etc.nprocessors.clamp(1, 4)
      BEAT_S = 0.2
      private_constant :BEAT_S

      module_function

      # @param items [Array]
      # @param processes [Integer]
      # @param beat [#call, nil] called here now and then; what it raises ends all of it
      # @yield [Object] one of them, in another process; what it answers, or raises, has to be plain
      # @return [Array] in the order of the items
      def map(items, processes: PROCESSES, beat: nil, &work)
        return items.map { |item| beat&.call.then { work.call(item) } } if processes < 2 || items.size < 2

        shares = items.each_with_index.group_by { |_, at| at % processes }.values.map { |share| share.map(&:first) }
        answers = collected(shares.map { |share| begun(share, work) }, beat)
        Array.new(items.size) { |at| answers[at % shares.size][at / shares.size] }
      end

      # @return [Array(IO, Integer)] where it answers, and its id
      def begun(share, work)
        read, write = IO.pipe(binmode: true)
        pid = fork do
          read.close
          answer = begin
            [:fine, share.map(&work)]
          rescue => e
            [:failed, e]
          end
          write.write(Marshal.dump(answer))
          write.close
        ensure
          # Nothing of the caller's is flushed or closed here.
          exit!
        end
        write.close
        [read, pid]
      end

      def collected(lines, beat)
        said = lines.to_h { |read, _| [read, +""] }
        until said.keys.all?(&:closed?)
          beat&.call
          IO.select(said.keys.reject(&:closed?), nil, nil, BEAT_S)&.first&.each { |read| read_on(read, said[read]) }
        end
        said.values.map { |bytes| answer(bytes) }
      rescue Exception # rubocop:disable Lint/RescueException -- nobody else ends them
        lines.each { |_, pid| Process.kill("KILL", pid) }
        raise
      ensure
        lines.each { |read, pid| read.close.then { Process.wait(pid) } }
      end

      def read_on(read, said)
        said << read.read_nonblock(65_536)
      rescue EOFError
        read.close
      end

      def answer(bytes)
        raise IOError, "a process that worked ended without an answer" if bytes.empty?

        state, found = Marshal.load(bytes)
        (state == :fine) ? found : raise(found)
      end
      private_class_method :begun, :collected, :read_on, :answer
    end
  end
end
