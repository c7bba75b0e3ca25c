# frozen_string_literal: true

# Files as other people call them, of tracks whose names are known: in six styles, drawn by lot.
class MadeUpNames
  STYLES = %i[numbered prefixed short misspelt suffixed counted].freeze
  # Sources of a large stage; no two are meant by the same word.
  NAMES = [
    "Hurdy-gurdy", "Cimbalom L", "Cimbalom R", "Tuba", "Kick", "Snare top", "Snare bottom", "Overhead L", "Overhead R", "Accordion", "Toy piano",
    "Foley table", "Narrator", "Floor tom", "Rack tom 1", "Rack tom 2", "Ride", "Hi-hat", "Bass DI", "Bass amp", "Acoustic guitar",
    "Electric guitar 1", "Electric guitar 2", "Organ L", "Organ R", "Violin", "Viola", "Cello", "Contrabass", "Flute", "Clarinet", "Trumpet 1",
    "Trumpet 2", "Trombone", "Harp", "Mandolin", "Banjo", "Lead vocal", "Backing vocal 1", "Backing vocal 2", "Choir L", "Choir R", "Ambience L",
    "Ambience R", "Talkback", "Synth L", "Synth R", "Wind machine", "Thunder sheet", "Glockenspiel", "Marimba", "Bassoon", "Oboe", "Piccolo",
    "Timpani", "Lantern chimes", "Sea drum", "Musical saw", "Bagpipes", "Whistle", "Squeaky door", "Radio play", "Telephone", "Rain stick"
  ].freeze
  # What people write short; apart from the product's own list.
  SHORT = {
    "Kick" => "BD", "Snare top" => "SN top", "Snare bottom" => "SN bot", "Overhead L" => "OH L", "Overhead R" => "OH R", "Hi-hat" => "HH",
    "Bass DI" => "Bs DI", "Acoustic guitar" => "Ac Gtr", "Electric guitar 1" => "E-Gtr 1", "Electric guitar 2" => "E-Gtr 2",
    "Lead vocal" => "Ld Vox", "Backing vocal 1" => "BVox 1", "Backing vocal 2" => "BVox 2", "Accordion" => "Akkordeon", "Violin" => "Geige",
    "Cello" => "Vcl", "Trumpet 1" => "Trp 1", "Trumpet 2" => "Trp 2", "Trombone" => "Posaune", "Flute" => "Floete", "Ambience L" => "Amb L",
    "Ambience R" => "Amb R", "Narrator" => "Sprecher"
  }.freeze

  def initialize(seed) = @random = Random.new(seed)

  # @return [Array<Loomshuttle::Capture::Track>]
  def tracks(count = NAMES.size)
    NAMES.first(count).map.with_index(1) { |name, n| Loomshuttle::Capture::Track.new(id: "rec/track/#{n}", place: "rec/track/#{n}", name: name) }
  end

  # A folder of one style.
  #
  # @return [Hash{String => String}] file => id of the track that it is of
  def folder(style, tracks) = tracks.to_h { |track| [file(style, track), track.id] }

  private

  def file(style, track)
    name = track.name
    case style
    when :numbered then format("%02d_%s.wav", track.number, cased(name))
    when :prefixed then "LANTERNS_2026-11-25_#{name.tr(" ", "_").upcase}.wav"
    when :short then "#{SHORT.fetch(name) { shortened(name) }}.wav"
    when :misspelt then "#{misspelt(name)}.wav"
    when :suffixed then "#{name.tr(" ", "-")}_003.wav"
    else format("Track %02d.wav", track.number)
    end
  end

  def cased(name) = [name, name.upcase, name.downcase, name.tr(" ", "_")].sample(random: @random)

  # The first long word without its vowels, or its beginning.
  def shortened(name)
    word = name[/[A-Za-z]{5,}/] or return name
    short = @random.rand(2).zero? ? word[0] + word[1..].delete("aeiou") : word[0, 4]
    name.sub(word, short)
  end

  # One letter of a long word left out, doubled, or changed places with the next.
  def misspelt(name)
    word = name[/[A-Za-z]{5,}/] or return name
    at = 1 + @random.rand(word.size - 2)
    name.sub(word, [word[0...at] + word[(at + 1)..], word[0..at] + word[at..], word[0...at] + word[at + 1] + word[at] + word[(at + 2)..].to_s].sample(random: @random))
  end
end
