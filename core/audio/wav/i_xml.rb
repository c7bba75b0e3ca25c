# frozen_string_literal: true

require "rexml/document"
require "rexml/streamlistener"

module Loomshuttle
  module Audio
    module Wav
      # The iXML chunk (open specification): a name for each channel, and the time of day at which the file begins.
      module IXml
        module_function

        # More than any track list needs; a chunk that is longer, or deeper, was not written to be read.
        BYTES_MAX = 256 * 1024
        DEPTH_MAX = 64
        private_constant :BYTES_MAX, :DEPTH_MAX

        # @param xml [String]
        # @return [Array<String>] by CHANNEL_INDEX; empty where the text is no XML
        def track_names(xml) = fields(xml).tracks.sort_by { |track| track["CHANNEL_INDEX"].to_i }.map { |track| track["NAME"].to_s }

        # @param xml [String]
        # @return [Rational, nil] seconds since midnight; nil where it does not tell
        def seconds_since_midnight(xml)
          high, low, rate_hz = fields(xml).speed.values_at(*%w[TIMESTAMP_SAMPLES_SINCE_MIDNIGHT_HI TIMESTAMP_SAMPLES_SINCE_MIDNIGHT_LO TIMESTAMP_SAMPLE_RATE]).map { |text|
            Integer(text.to_s.strip, 10, exception: false)
          }
          return nil unless low && rate_hz&.positive?

          Rational((high.to_i << 32) + low, rate_hz)
        end

        # @return [Fields] empty where the text is no XML
        def fields(xml)
          return Fields.new if xml.bytesize > BYTES_MAX

          Fields.new.tap { |listener| REXML::Document.parse_stream(xml.dup.force_encoding("UTF-8").scrub("?").delete("\0"), listener) }
        rescue REXML::ParseException, RuntimeError
          Fields.new
        end

        # Gathers the fields of each TRACK of a TRACK_LIST, and those of SPEED, however deep they stand, without a tree.
        class Fields
          include REXML::StreamListener

          attr_reader :tracks, :speed

          def initialize
            @tracks = []
            @speed = {}
            @path = []
          end

          def tag_start(name, _attributes)
            raise REXML::ParseException, "deeper than #{DEPTH_MAX}" if @path.size >= DEPTH_MAX

            @tracks << {} if name == "TRACK" && @path.last == "TRACK_LIST"
            @path << name
          end

          def tag_end(_name) = @path.pop

          def text(words)
            @tracks.last[@path.last] ||= words if @path[-3..-2] == %w[TRACK_LIST TRACK]
            @speed[@path.last] ||= words if @path[-2] == "SPEED"
          end
          alias_method :cdata, :text
        end
        private_constant :Fields

        # Room for the longest name with every character escaped, so that a track can be renamed
        # in place without moving a sample.
        BYTES_A_CHANNEL = 2048
        private_constant :BYTES_A_CHANNEL

        # @param names [Array<String>] one a channel
        # @return [String] the chunk; its size depends on the number of channels alone
        def tracks(names)
          document = REXML::Document.new("<BWFXML><IXML_VERSION>1.61</IXML_VERSION><TRACK_LIST/></BWFXML>")
          list = document.elements["//TRACK_LIST"]
          list.add_element("TRACK_COUNT").text = names.size
          names.each.with_index(1) { |name, channel| add_track(list, name, channel) }
          document.to_s.b.ljust(names.size * BYTES_A_CHANNEL)
        end

        def add_track(list, name, channel)
          track = list.add_element("TRACK")
          track.add_element("CHANNEL_INDEX").text = channel
          track.add_element("INTERLEAVE_INDEX").text = channel
          track.add_element("NAME").text = plain(name)
        end

        # What XML 1.0 cannot hold is left out.
        def plain(name) = name.scrub("?").gsub(/[^\t\n\r\u0020-\uD7FF\uE000-\uFFFD\u{10000}-\u{10FFFF}]/, "")
        private_class_method :fields, :add_track, :plain
      end
    end
  end
end
