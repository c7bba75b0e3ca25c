# frozen_string_literal: true

module Loomshuttle
  module Soundcheck
    module Matching
      # What engineers write on strips for one and the same thing, in English and German: abbreviations and
      # translations of common practice, from memory. The first of each line stands for all of it.
      module TradeWords
        LINES = <<~WORDS.unicode_normalize(:nfd).gsub(/\p{Mn}/, "").lines.map(&:split).freeze
          kick kik kck bd bassdrum bdrum
          snare sn snr sd kleine
          overhead oh ovh overheads ohs
          hihat hh hat hats hi-hat
          tom tm toms
          floor ft flr standtom
          ride rd
          crash cr becken cymbal
          drum drums dr drm schlagzeug
          percussion perc prc schlagwerk
          bass bs bss
          guitar gtr git gitarre gt guit
          acoustic ac acc acg akustik aco
          electric el eg elec
          keyboard keys kbd key kb tasten
          piano pno klavier pn
          organ org orgel
          synth syn synthesizer
          vocal vox voc voice vocals gesang stimme vx
          lead ld leadvox
          backing bv bvox bgv chor choir
          violin vln vl geige fiddle viol
          viola vla bratsche
          cello vc vcl violoncello
          contrabass kontrabass cb upright
          flute fl flöte
          clarinet cl klarinette clar klar
          bassoon bsn fagott fag
          hurdy drehleier leier
          saxophone sax saxofon sx
          trumpet tp trp trompete tpt
          trombone tb trb posaune tbn
          horn hn hrn
          accordion acc akkordeon akk accord
          harp hrp harfe
          mandolin mand mando mandoline
          banjo bjo
          zither zith cimbalom cimb hackbrett zimbel zimbal
          narrator narr erzähler sprecher speaker
          talkback tlk tb
          ambience amb atmo room raum aud audience publikum
          track trk audio aud spur
          left l li links lft
          right r re rechts rgt
          top oben up
          bottom bot unten btm under
          in inside innen
          out outside aussen
          high hi hoch
          low lo tief
          front frt vorn vorne
          rear back hinten
          click clk metronome klick
        WORDS

        MEANS = LINES.each_with_object({}) { |line, all| line.each { |word| all[word] = [*all.fetch(word, []), line.first].freeze } }.freeze
        NONE = [].freeze
        # Written as two letters: "floete".
        UMLAUT = /([aou])e/
        private_constant :MEANS, :NONE, :UMLAUT

        # @return [Array<String>] all that a word may stand for; nothing for what is no word of the trade
        def self.meanings(word) = MEANS.fetch(word) { MEANS.fetch(word.gsub(UMLAUT, '\1'), NONE) }
      end
    end
  end
end
