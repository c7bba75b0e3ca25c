# frozen_string_literal: true

module Loomshuttle
  module Server
    # What is another in plain data that changes often and little: only that is sent. Hashes are gone into, all else is
    # sent whole; what is gone is sent as null, so that null and gone are the same to whoever reads.
    # After JSON Merge Patch (RFC 7396).
    #
    #   Delta.between({a: 1, b: {c: 2, d: 3}}, {a: 1, b: {c: 4, d: 3}})   # => {b: {c: 4}}
    module Delta
      module_function

      # @param was [Hash]
      # @param is [Hash]
      # @return [Hash] empty where nothing is another
      def between(was, is)
        gone = (was.keys - is.keys).to_h { |key| [key, nil] }
        is.each_with_object(gone) do |(key, value), changes|
          before = was[key]
          next if before == value && was.key?(key)

          changes[key] = (before.is_a?(Hash) && value.is_a?(Hash)) ? between(before, value) : value
        end
      end
    end
  end
end
