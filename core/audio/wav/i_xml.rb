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

        # @return [String] the chunk for one channel of that name
        def single(name)
          document = REXML::Document.new("<BWFXML><IXML_VERSION>1.61</IXML_VERSION><TRACK_LIST><TRACK_COUNT>1</TRACK_COUNT>" \
            "<TRACK><CHANNEL_INDEX>1</CHANNEL_INDEX><INTERLEAVE_INDEX>1</INTERLEAVE_INDEX><NAME/></TRACK></TRACK_LIST></BWFXML>")
          document.elements["//NAME"].text = name
          document.to_s.b
        end
      end
    end
  end
end
