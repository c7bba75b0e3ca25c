# frozen_string_literal: true

require "core_helper"
require "support/made_up_names"

RSpec.describe Loomshuttle::Soundcheck::Matching do
  def tracks(*names) = names.map.with_index(1) { |name, n| Loomshuttle::Capture::Track.new(id: "rec/track/#{n}", place: "rec/track/#{n}", name: name) }
  def files(*names) = names.map { |name| {name: name, channels: 1} }

  # @return [Hash] file => [name of the track, sure]
  def matched(tracks, files) = described_class.match(tracks, files)[:matched].to_h { |one| [one[:file], [tracks.find { |track| track.id == one[:track] }.name, one[:sure]]] }

  it "finds names in another case, order, spelling, language, with accents and abbreviations, and says why" do
    {"GURDY HURDY.wav" => ["Hurdy-gurdy", "the same words"], "HurdyGurdy.wav" => ["Hurdy-gurdy", "the same name"], "hurdygurdy.wav" => ["Hurdy-gurdy", "the same words"],
     "Kik.wav" => ["Kick", "means the same"], "Geige.wav" => ["Violin", "means the same"], "Erzähler.wav" => ["Narrator", "means the same"],
     "Acordion.wav" => ["Accordion", "another spelling"], "Accrdn.wav" => ["Accordion", "an abbreviation"]}.each do |file, (name, why)|
      some = tracks("Hurdy-gurdy", "Kick", "Violin", "Narrator", "Accordion", "Cimbalom")
      found = described_class.match(some, files(file))[:matched].first
      expect([file, some.find { |track| track.id == found[:track] }.name, found[:why]]).to eq([file, name, why])
    end
  end

  it "keeps sides and numbers apart, and takes a name without them for neither for sure" do
    some = tracks("Tom 1", "Tom 2", "Overhead L", "Overhead R")
    expect(matched(some,
      files("tom2.wav", "TOM 1.wav", "OH right.wav",
        "oh_l.wav"))).to eq("tom2.wav" => ["Tom 2", true], "TOM 1.wav" => ["Tom 1", true], "OH right.wav" => ["Overhead R", true], "oh_l.wav" => ["Overhead L", true])
    expect(matched(some, files("Tom.wav")).values.map(&:last)).to eq([false])
  end

  it "goes by the number where there is no name, up to any channel" do
    many = tracks(*(1..40).map { |n| "Source #{n} of many" })
    expect(matched(many, files("Track 01.wav", "Track 40.wav")).values.map(&:first)).to eq(["Source 1 of many", "Source 40 of many"])
  end

  # Half of a folder of 34 was left out though each file carried its track's number.
  it "believes numbers that agree with the names all through a folder: for guesses, and for names of no track" do
    some = tracks("Kick", "Snare", "Tuba", "Narrator", "Thunder sheet", "Choir L", "Cello", "Barn R")
    called = ["T4_01_BD", "T4_02_Sn", "T4_03_Tuba", "T4_04_Erzaehler", "T4_05_Donner", "T4_06_ChoorL", "T4_08_Dach L", "T4_09_misc"].map { |name| "#{name}.wav" }
    found = described_class.match(some, files(*called))[:matched].to_h { |one| [one[:file], one.values_at(:track, :why, :sure)] }
    expect(found.values_at("T4_04_Erzaehler.wav", "T4_05_Donner.wav", "T4_06_ChoorL.wav"))
      .to eq([["rec/track/4", "means the same", true], ["rec/track/5", "its number, as all the others", false], ["rec/track/6", "another spelling, and its number", true]])
    # Not where a name says another side, or there is no such track; nor where the numbers are another list's.
    expect([found.keys & ["T4_08_Dach L.wav", "T4_09_misc.wav"], matched(some, files("04_BD.wav", "03_Sn.wav", "02_Tuba.wav", "01_Narrator.wav", "05_Donner.wav")).keys]).to match([[], have_attributes(size: 4)])
  end

  it "takes a number alone for what the list that came along calls it, and says so" do
    some = tracks("Tuba", "Kick", "Narrator")
    list = {1 => "Kick drum", 3 => "Bass tuba", 9 => "Erzähler"}
    found = described_class.match(some, files("Track 01.wav", "Track 03.wav", "Track 02.wav"), list: list)
    expect(found[:matched].to_h { |one| one.values_at(:file, :track) }).to eq("Track 01.wav" => "rec/track/2", "Track 03.wav" => "rec/track/1")
    expect(found[:matched].first[:why]).to start_with('1 is "Kick drum" in their list: ')
    many = described_class.match(some, [{name: "many.wav", channels: 9}], list: list)[:matched]
    expect(many.to_h { |one| one.values_at(:channel, :track) }).to eq(1 => "rec/track/2", 3 => "rec/track/1", 9 => "rec/track/3")
    # What has a name keeps it.
    expect(described_class.match(some, files("01 Narrator.wav"), list: list)[:matched].first[:track]).to eq("rec/track/3")
  end

  it "drops what all names have in common, and tells several takes of one folder apart" do
    some = tracks("Kick", "Snare", "Tuba", "Narrator")
    expect(matched(some, files("Saltmarsh_Kick_mono.wav", "Saltmarsh_Snare_mono.wav", "Saltmarsh_Tuba_mono.wav", "Saltmarsh_Narrator_mono.wav")).values.map(&:last)).to eq([true] * 4)
    twice = described_class.match(some, files(*%w[Kick Snare Tuba].flat_map { |name| ["#{name}_001.wav", "#{name}_002.wav"] }))
    expect(twice[:matched].map { |one| one[:file] }).to eq(%w[Kick_002.wav Snare_002.wav Tuba_002.wav])
    expect(twice[:loose].map { |one| one.values_at(:file, :why) }).to eq([["Kick_001.wav", "take 1"], ["Snare_001.wav", "take 1"], ["Tuba_001.wav", "take 1"]])
    expect(twice.slice(:takes, :take)).to eq(takes: [1, 2], take: 2)
    first = described_class.match(some, files(*%w[Kick Snare Tuba].flat_map { |name| ["#{name}_001.wav", "#{name}_002.wav"] }), take: 1)
    expect([first[:matched].map { |one| one[:file] }, first[:take]]).to eq([%w[Kick_001.wav Snare_001.wav Tuba_001.wav], 1])
    # One that is not there is not meant.
    expect(described_class.match(some, files("Kick_001.wav", "Kick_002.wav", "Tuba_001.wav", "Tuba_002.wav"), take: 9)[:take]).to eq(2)
  end

  it "takes a file of many channels by the names that it tells, else by their numbers" do
    some = tracks("Kick", "Snare", "Tuba")
    named = described_class.match(some, [{name: "all.wav", channels: 3, names: ["Tuba", "", "kick"]}])
    expect(named[:matched].map { |one| one.values_at(:channel, :track) }).to eq([[1, "rec/track/3"], [2, "rec/track/2"], [3, "rec/track/1"]])
    plain = described_class.match(some, [{name: "all.wav", channels: 4}])
    expect([plain[:matched].map { |one| one.values_at(:channel, :track) }, plain[:loose].map { |one|
      one[:channel]
    }]).to eq([[[1, "rec/track/1"], [2, "rec/track/2"], [3, "rec/track/3"]], [4]])
  end

  it "claims nothing for what is called otherwise, for empty names, and where there are no tracks" do
    expect(described_class.match(tracks("Kick"), files("Zebra.wav", ".wav", "-.wav", "ß.wav"))[:matched]).to eq([])
    expect(described_class.match([], files("Kick.wav"))).to include(matched: [], unfilled: [])
    expect(described_class.match(tracks("Kick"), [])).to eq(matched: [], loose: [], unfilled: ["rec/track/1"], takes: [], take: nil)
  end

  it "puts nearly all made-up names of six styles right, and none wrong without doubt" do
    names = MadeUpNames.new(5)
    all = names.tracks
    results = MadeUpNames::STYLES.flat_map do |style|
      folder = names.folder(style, all)
      found = described_class.match(all, files(*folder.keys))[:matched].to_h { |one| [one[:file], one] }
      folder.map { |file, track| [file, (found[file]&.fetch(:track) == track) ? :right : :wrong, found[file]&.fetch(:sure), track] }
    end
    expect(results.select { |_, how, sure, _| how == :wrong && sure }).to eq([])
    expect(results.count { |_, how, _, _| how == :right }).to be >= results.size * 0.97
  end

  describe "what somebody settled before" do
    def file(number, title) = {name: number, title: title, channels: 1, names: []}
    def track(name, number) = Loomshuttle::Capture::Track.new(id: "rec/track/#{number}", place: "rec/track/#{number}", name: name, armed: true)
    def tracks = %w[Kick Snare Accordion Narrator].map.with_index(1) { |name, number| track(name, number) }

    it "is known in the next folder of its kind, whatever its numbers, and goes before the names" do
      first = ["Abend-01_Kick", "Abend-02_Snare", "Abend-03_Akkordeon", "Abend-04_misc"].map.with_index(1) { |title, n| file(n, title) }
      keys = described_class.keys(first)
      known = {keys[[4, 1]] => "rec/track/4"}
      second = ["Probe-08_misc", "Probe-02_Snare", "Probe-01_Kick", "Probe-03_Akkordeon"].map.with_index(1) { |title, n| file(n, title) }
      found = described_class.match(tracks, second, known: known)[:matched]
      expect(found.to_h { |one| [one[:file], one[:track]] }).to eq(1 => "rec/track/4", 2 => "rec/track/2", 3 => "rec/track/1", 4 => "rec/track/3")
      expect(found.first).to include(why: "settled so before", sure: true)
    end

    it "counts for no track that is gone, and for neither of two files with one name" do
      twice = [file(1, "misc"), file(2, "misc"), file(3, "Kick")]
      expect(described_class.match(tracks, twice, known: {"misc" => "rec/track/4"})[:matched].map { |one| one[:file] }).to eq([3])
      expect(described_class.match(tracks, [file(1, "misc")], known: {"misc" => "rec/track/9"})[:matched]).to be_empty
    end
  end
end

# BWF's TimeReference counts samples since midnight (EBU Tech 3285).
RSpec.describe Loomshuttle::Soundcheck::Starts do
  def starts(*times, rate: 48_000) = described_class.of(times.map.with_index { |(samples, hz), n| {name: n, sample_rate_hz: hz || 48_000, time_reference: samples} }, rate).values

  it "begins each file when its time of day says so, at the show's rate" do
    day = 20 * 3600 * 48_000
    expect(starts([day + 480], [day], [day + 48_000])).to eq([480, 0, 48_000])
    expect(starts([day + 480], [day], rate: 96_000)).to eq([960, 0])
    expect(starts([20 * 3600 * 44_100 + 44_100, 44_100], [day])).to eq([48_000, 0])
  end

  it "begins all together where one tells nothing, or where they are of no one recording" do
    expect(starts([480], [nil])).to eq([0, 0])
    expect(starts([0], [10 * 3600 * 48_000])).to eq([0, 0])
    expect(starts).to eq([])
  end
end
