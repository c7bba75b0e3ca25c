# frozen_string_literal: true

module Loomshuttle
  # Ids that never change and say nothing: made of what they are made for, so that the same file
  # read twice gives the same ones, and of a count where that one is taken.
  #
  #   Ids.fresh("track-", "list/row/9", "rec", taken: show.tracks)   # => "track-5b1d0c77fe"
  module Ids
    LENGTH = 10
    private_constant :LENGTH

    module_function

    # @param seed [Array<String>]
    # @param taken [#include?]
    # @return [String]
    def fresh(prefix, *seed, taken:)
      (0..).each do |count|
        id = prefix + Digest::SHA256.hexdigest([*seed, count].join("\0"))[0, LENGTH]
        return id unless taken.include?(id)
      end
    end
  end
end
