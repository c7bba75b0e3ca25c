# frozen_string_literal: true

module Loomshuttle
  module Deck
    # What is played after what plays: the first of them lies ready, files open and its first second rendered, long before
    # it is wanted. What cannot be made ready says so by then, not when it is to sound.
    #
    #   following = Following.new { |request| ready }
    #   following.replace([request, ...])
    #   following.turn                      # on a thread of its own: reads disks
    #   following.take                      # => [request, ready], at once
    class Following
      # It is tried again so often: a file may come back.
      AGAIN_S = 2.0
      private_constant :AGAIN_S

      # @yield [Hash] DeckPlay; gives a Player::Ready
      # @yieldraise [BadInput] where it cannot be played
      def initialize(&make)
        @make = make
        @lock = Mutex.new
        @requests = []
      end

      attr_reader :requests

      # @param requests [Array<Hash>] DeckPlay
      def replace(requests)
        @lock.synchronize do
          let_go unless requests.first == @requests.first
          @requests = requests
        end
      end

      # Makes the first one ready.
      def turn
        request = @lock.synchronize { @requests.first unless @ready || now_s < @again_s.to_f }
        return unless request

        made = made(request)
        @lock.synchronize { (@requests.first.equal?(request) && !@ready) ? @ready = made : made&.close }
      end

      # @return [Array(Hash, Player::Ready), nil] the first one with those behind it as its queue, whoever takes it has it; nil
      #   while it is not ready
      def take
        @lock.synchronize do
          ready = @ready or next
          @ready = nil
          first, *rest = @requests
          @requests = []
          [first.merge("queue" => rest), ready]
        end
      end

      # @return [Hash, nil] key, label, ready and failed (why it cannot be played) of what comes next
      def to_data = @requests.first&.then { |first| {key: first["key"], label: first["label"], ready: !@ready.nil?, failed: @failed} }

      private

      def made(request)
        @make.call(request).tap { @failed = nil }
      rescue BadInput => e
        @failed = e.message
        @again_s = now_s + AGAIN_S
        nil
      end

      def let_go
        @ready&.close
        @ready = @failed = @again_s = nil
      end

      def now_s = Process.clock_gettime(Process::CLOCK_MONOTONIC)
    end
  end
end
