# frozen_string_literal: true

require "rexml/document"
require "rexml/streamlistener"

module Loomshuttle
  module Audio
    module Wav
      # The iXML chunk's track list (open specification): a name for each channel.
      module IXml
        module_function

        # More than any track list needs; a chunk that is longer, or deeper, was not written to be read.
        BYTES_MAX = 256 * 1024
        DEPTH_MAX = 64
        private_constant :BYTES_MAX, :DEPTH_MAX

        # @param xml [String]
        # @return [Array<String>] by CHANNEL_INDEX; empty where the text is no XML
        def track_names(xml)
          return [] if xml.bytesize > BYTES_MAX

          listener = TrackList.new
          REXML::Document.parse_stream(xml.dup.force_encoding("UTF-8").scrub("?").delete("\0"), listener)
          listener.tracks.sort_by { |track| track["CHANNEL_INDEX"].to_i }.map { |track| track["NAME"].to_s }
        rescue REXML::ParseException, RuntimeError
          []
        end

        # Gathers the fields of each TRACK of a TRACK_LIST, however deep that stands, without a tree.
        class TrackList
          include REXML::StreamListener

          attr_reader :tracks

          def initialize
            @tracks = []
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
          end
          alias_method :cdata, :text
        end
        private_constant :TrackList

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
        private_class_method :add_track, :plain
      end
    end
  end
end
