# frozen_string_literal: true

module Loomshuttle
  module Exchange
    # What the channels of a recording were called by whoever made it: the input list that they sent along, as CSV or as a
    # show file.
    #
    #   SentList.read("inputs.csv", bytes, show_file)   # => {1 => "Kick in", 2 => "Kick out"}
    module SentList
      ENDINGS = /\.(csv|tsv|json)\z/i

      module_function

      # @param title [String] of the file
      # @param bytes [String]
      # @param show_file [ShowFile] that reads show files
      # @return [Hash{Integer => String}] by number of the channel
      # @raise [BadInput]
      def read(title, bytes, show_file)
        title.match?(/\.json\z/i) ? of_show(show_file.parse(bytes)) : InputList.names(bytes)
      end

      # Tracks are what was recorded; a show without any has its rows.
      def of_show(show)
        named = show.tracks.any? ? show.tracks.values : show.rows.values
        named.to_h { |one| [one.number, one.name] }
      end
      private_class_method :of_show
    end
  end
end
