# frozen_string_literal: true

require "rack/attack"

module Loomshuttle
  module Server
    # Whoever guesses codes is slowed down, and then locked out for a while; other requests are not counted.
    module Guesses
      PATH = "/api/door"
      # Somebody who reads a code off a screen mistypes it a few times.
      TRIES = 5
      PER_S = 60
      LOCKED_AFTER = 15
      LOCKED_FOR_S = 1800
      private_constant :PATH, :TRIES, :PER_S, :LOCKED_AFTER, :LOCKED_FOR_S

      # Counts for rack-attack, in this process: they are forgotten with it, as they may be.
      class Counts
        KEYS_MAX = 10_000
        private_constant :KEYS_MAX

        def initialize(clock: -> { Process.clock_gettime(Process::CLOCK_MONOTONIC) })
          @clock = clock
          @lock = Mutex.new
          @kept = {}
        end

        def read(key, _options = {}) = @lock.synchronize { live(key)&.first }
        def delete(key, _options = {}) = @lock.synchronize { @kept.delete(key) }

        def write(key, value, expires_in: nil)
          @lock.synchronize { keep(key, value, expires_in) }
        end

        # @return [Integer] what it is then
        def increment(key, by = 1, expires_in: nil)
          @lock.synchronize do
            value, ends_s = live(key)
            ends_s ? (@kept[key] = [value + by, ends_s]).first : keep(key, by, expires_in)
          end
        end

        private

        def live(key) = @kept[key]&.then { |value, ends_s| [value, ends_s] if ends_s > @clock.call }

        # Whoever comes from ever new addresses does not fill the memory: the oldest counts go.
        def keep(key, value, expires_in)
          @kept.delete(key)
          @kept.shift while @kept.size >= KEYS_MAX
          @kept[key] = [value, expires_in ? @clock.call + expires_in : Float::INFINITY]
          value
        end
      end

      module_function

      # @return [#call] the application with that in front
      def slowed(app)
        attack = Rack::Attack.new(app)
        attack.configuration.tap { |rules| lay(rules) }
        Rack::Attack.cache.store = Counts.new
        attack
      end

      def lay(rules)
        rules.clear_configuration
        rules.throttle("codes", limit: TRIES, period: PER_S) { |request| address(request) if code?(request) }
        rules.blocklist("guesses") { |request| code?(request) && Rack::Attack::Allow2Ban.filter(address(request), maxretry: LOCKED_AFTER, findtime: LOCKED_FOR_S, bantime: LOCKED_FOR_S) { true } }
        rules.throttled_responder = rules.blocklisted_responder = ->(_) { refusal }
      end

      def code?(request) = request.post? && request.path == PATH

      # nginx says from where; it alone can.
      def address(request) = request.env["HTTP_X_REAL_IP"] || request.ip

      def refusal
        words = "Too many codes were tried from there. Wait a while, and ask for a new one."
        FaultAnswer.of(429, field: "code", allowed: "a few tries a minute", message: words)
      end
      private_class_method :lay, :code?, :address, :refusal
    end
  end
end
