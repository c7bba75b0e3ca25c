# frozen_string_literal: true

require "rexml/document"

module Loomshuttle
  module Audio
    module Wav
      # The iXML chunk's track list (open specification): a name for each channel.
      module IXml
        module_function

        # @param xml [String]
        # @return [Array<String>] by CHANNEL_INDEX; empty where the text is no XML
        def track_names(xml)
          text = xml.dup.force_encoding("UTF-8").scrub("?").delete("\0")
          REXML::Document.new(text).get_elements("//TRACK_LIST/TRACK")
            .sort_by { |track| track.elements["CHANNEL_INDEX"]&.text.to_i }.map { |track| track.elements["NAME"]&.text.to_s }
        rescue REXML::ParseException, RuntimeError
          []
        end

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
