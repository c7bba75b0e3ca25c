# frozen_string_literal: true

module Loomshuttle
  module Server
    # What the worker does: one kind of work a file. A job looks up what its task says, does it, and writes
    # its effect and the task's end in one transaction: killed at any moment, it begins again and the effect
    # is there once.
    module Jobs
      # By what tasks call them.
      KINDS = {"import_look" => ImportLook, "import_take" => ImportTake, "song_make" => SongMake, "song_cues" => SongCues, "song_tempo" => SongTempo,
               "song_measure" => SongMeasure, "bounce" => Bounce}.freeze
    end
  end
end
