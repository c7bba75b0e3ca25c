# frozen_string_literal: true

require "core_helper"
require "support/with_a_worker"
require "support/wav_files"
require "open3"
require_relative "../../boot/server"

# Songs made of real files of every kind by the real worker and ffmpeg, edited, listed and taken back.
RSpec.describe "Songs of the library" do
  include_context "with a worker"

  def library = "/api/library"
  def plan(id) = api("get", "#{library}/imports/#{id}").last
  def songs = api("get", "#{library}/songs").last["songs"]
  def show = api("get", @installation.show).last

  # Sound files as ffmpeg writes them: a tone on the left, another or none on the right.
  def sound(folder, name, channels: 2, rate: 44_100, seconds: 2, left: 440, right: 660)
    path = File.join(folder, name)
    tones = [left, right].first(channels).map { |hz| "0.25*sin(#{2 * Math::PI * hz}*t)" }.join("|")
    system("ffmpeg", "-nostdin", "-v", "error", "-y", "-f", "lavfi", "-i", "aevalsrc=#{tones}:s=#{rate}:d=#{seconds}", *((name =~ /opus/) ? %w[-c:a libopus] : []), path, exception: true)
    path
  end

  def folder(name) = File.join(@sources, name).tap { |path| FileUtils.mkdir_p(path) }

  def looked_at(source)
    id = api("post", "#{library}/imports", {folder: source}).last.fetch("id")
    @installation.wait("the look") { plan(id)["files"].all? { |file| file["holds"] || file["fault"] } }
    plan(id)
  end

  def accept(plan, **more)
    stems = plan["files"].select { |file| file["holds"] }.map { |file| {file: file["number"], name: file["title"].sub(/\.\w+\z/, ""), role: file["role"]} }
    api("post", "#{library}/imports/#{plan["id"]}/accept", {title: plan["title"], stems: stems, **more})
  end

  def made(title) = api("get", "#{library}/songs/#{songs.find { |song| song["title"] == title }.fetch("id")}").last

  it "are made of every kind of file, each at the library's rate, mono or stereo as it was, with the role that its name says" do
    source = folder("Ebb song")
    {"01 Click.wav" => 1, "02 Bass DI.aiff" => 1, "Drums stereo.flac" => 2, "Lead Vox.mp3" => 1, "Pads.m4a" => 2, "FX.opus" => 2}.each { |name, channels| sound(source, name, channels: channels, rate: name.include?("opus") ? 48_000 : 44_100) }
    File.write(File.join(source, "notes.txt"), "not sound")
    File.write(File.join(source, "broken.mp3"), "not sound either")
    found = looked_at(source)
    expect(found["files"].to_h { |file| [file["title"], file["role"]] }).to include("01 Click.wav" => "click", "02 Bass DI.aiff" => "bass", "Drums stereo.flac" => "drums",
      "Lead Vox.mp3" => "vocals", "Pads.m4a" => "keys", "FX.opus" => "effects")
    expect(found["files"].find { |file| file["title"] == "broken.mp3" }["fault"]).to include("a sound file: WAV, AIFF, FLAC, MP3, AAC or Opus")
    expect(ended(accept(found, bpm: 96, keep: true, show: 1).last["task"])["state"]).to eq("done")
    song = made("Ebb song")
    expect(song).to include("bpm" => 96.0, "sample_rate_hz" => 48_000, "version" => 1)
    expect(song["stems"].to_h { |stem| [stem["role"], stem["channels"]] }).to eq("click" => 1, "bass" => 1, "drums" => 2, "vocals" => 1, "keys" => 2, "effects" => 2)
    place = File.join(@folder, "songs", song["id"])
    song["stems"].each do |stem|
      path = File.join(place, stem["file"])
      told = Open3.capture2("ffprobe", "-v", "error", "-show_entries", "stream=codec_name,sample_rate,channels", "-of", "csv=p=0", path).first.strip
      expect(told).to eq("pcm_f32le,48000,#{stem["channels"]}")
      expect(stem["frames"]).to be_within(3_000).of(96_000)
      expect(FileUtils.identical?(File.join(place, stem["original"]), File.join(source, File.basename(stem["original"])))).to be(true)
    end
    expect(show["songs"].map { |one| one["title"] }).to eq(["Low tide waltz", "Ebb song"])
    expect(show["songs"].last["roles"]).to match_array(%w[click bass drums vocals keys effects])
    expect(show["findings"].find { |finding| finding["rule"] == "unassigned-role" }["title"]).to include("Bass", "have no output")
  end

  # At 100 beats a minute a bar is 2.4 s: markers at bar 1, close behind bar 3, close before bar 5.
  it "bring the markers of their stems, each at its bar" do
    source = folder("Marked song")
    Loomshuttle::Files::WavWriter.write(File.join(source, "Organ.wav"), rate_hz: 44_100, names: ["organ"], frames: 44_100 * 12,
      markers: {0 => "Verse", 4.84 => "Lift", 9.5 => "Chorus"}.map { |at_s, label| {frame: (at_s * 44_100).round, label: label} }) { |_, count| Numo::SFloat.new(1, count).rand(-0.1, 0.1) }
    expect(ended(accept(looked_at(source), bpm: 100).last["task"])["state"]).to eq("done")
    expect(made("Marked song")["markers"]).to eq([["Verse", 1], ["Lift", 3], ["Chorus", 5]].map { |label, bar| {"label" => label, "bar" => bar} })
    expect(made("Ebb song")["markers"]).to eq([]) if songs.any? { |song| song["title"] == "Ebb song" }
  end

  it "have the tempo of their click stem found by its own onsets" do
    click = Numo::SFloat.zeros(48_000 * 10)
    (0...18).each { |beat| (12_000 + beat * 60 * 48_000 / 108.0).round.then { |frame| click[frame...(frame + 300)] = Numo::SFloat.new(300).seq(300, -1) / 400 } }
    pcm = ->(samples) { WavFiles.pcm16((samples * 20_000).to_a.map(&:round)) }
    source = folder("Heard")
    {"click.wav" => click, "organ.wav" => click * 0.1}.each { |name, samples| File.binwrite(File.join(source, name), pcm[samples]) }
    expect(ended(accept(looked_at(source)).last["task"])["state"]).to eq("done")
    id = made("Heard")["id"]
    expect(api("get", "#{library}/songs/#{id}/tempo/heard").last).to include("stem" => "click", "bpm" => 108.0, "first_frame" => 12_000, "clicks" => 18, "stray_ms" => be < 0.05)
    expect(api("get", "#{library}/songs/low-tide-waltz/tempo/heard").then { |status, answer| [status, answer.dig("error", "field")] }).to eq([422, "stem"])
  end

  it "keep both sides of a stereo stem" do
    source = folder("Sides")
    sound(source, "Organ.mp3", left: 440, right: 880)
    expect(ended(accept(looked_at(source)).last["task"])["state"]).to eq("done")
    song = made("Sides")
    path = File.join(@folder, "songs", song["id"], song["stems"].first["file"])
    samples = File.open(path, "rb") { |io| Loomshuttle::Audio::Wav::Reader.new(io).read_s32(24_000, 48_000) }
    crossings = ->(side) { (0...(side.size - 1)).count { |n| side[n] < 0 && side[n + 1] >= 0 } }
    expect([crossings[samples[true, 0]], crossings[samples[true, 1]]]).to match([be_within(2).of(440), be_within(2).of(880)])
    expect(song["stems"].first["original"]).to be_nil
  end

  # EBU R 128 / ITU-R BS.1770: a sine of 997 Hz at -23 dBFS on both sides is -23.0 LUFS (EBU Tech 3341, test 1 is of
  # this kind; 1 kHz here). And the same as ffmpeg's filter says when it is asked beside.
  it "are in the library as soon as their stems are; how loud they are, each stem and all together, is measured afterwards" do
    source = folder("Loud")
    path = File.join(source, "Keys.wav")
    system("ffmpeg", "-nostdin", "-v", "error", "-y", "-f", "lavfi", "-i", "aevalsrc=#{(["#{10**(-23 / 20.0)}*sin(#{2 * Math::PI * 1000}*t)"] * 2).join("|")}:s=48000:d=20", "-c:a", "pcm_s24le", path, exception: true)
    FileUtils.cp(path, File.join(source, "Pad.wav"))
    expect(ended(accept(looked_at(source)).last["task"])["state"]).to eq("done")
    expect(api("get", "/api/tasks").last.map { |task| task.values_at("kind", "subject") }).to include(["song_measure", "Measuring Loud"])
    song = @installation.wait("the loudness") { made("Loud").then { |now| now if now["loudness_lufs"] } }
    expect(song["stems"].map { |stem| stem["loudness_lufs"] }).to all(be_within(0.1).of(-23.0))
    expect(song["stems"].map { |stem| stem["true_peak_dbtp"] }).to all(be_within(0.1).of(-23.0))
    expect(song).to include("loudness_lufs" => be_within(0.1).of(-17.0), "true_peak_dbtp" => be_within(0.1).of(-17.0))
    told = Open3.capture2e("ffmpeg", "-nostdin", "-hide_banner", "-i", path, "-af", "ebur128=peak=true", "-f", "null", "-").first
    expect(song["stems"].first["loudness_lufs"]).to eq(told[/.*I:\s+(-[\d.]+) LUFS/m, 1].to_f)
  end

  # A good WAV file as our own reader has it, and as ffprobe has it.
  it "know what a WAV file holds as ffprobe does, whatever it is" do
    [[16, 1, 44_100], [24, 2, 48_000], [32, 2, 96_000]].each do |bits, channels, rate|
      path = File.join(folder("Probe"), "#{bits}.wav")
      system("ffmpeg", "-nostdin", "-v", "error", "-y", "-f", "lavfi", "-i", "sine=sample_rate=#{rate}:duration=0.5",
        "-ac", channels.to_s, "-c:a", "pcm_s#{bits}le", path, exception: true)
      ours, theirs = %i[of of_any].map { |name| Loomshuttle::Files::Probe.send(name, path, "x").slice(:channels, :sample_rate_hz, :frames) }
      expect(ours).to eq(theirs)
    end
    File.write(File.join(folder("Probe"), "odd.wav"), "RIFF....WAVE")
    expect { Loomshuttle::Files::Probe.of(File.join(folder("Probe"), "odd.wav"), "odd.wav") }.to raise_error(Loomshuttle::BadInput, /odd.wav/)
    surround = File.join(folder("Probe"), "six.wav")
    system("ffmpeg", "-nostdin", "-v", "error", "-y", "-f", "lavfi", "-i", "sine=duration=0.5", "-ac", "6", surround, exception: true)
    expect { Loomshuttle::Files::Probe.of(surround, "six.wav") }.to raise_error(Loomshuttle::BadInput, /6 channels/)
  end

  it "are brought by a browser in parts, and nothing stays of one that is left" do
    bytes = File.binread(sound(folder("Upload"), "Kazoo.flac", channels: 1))
    id = api("post", "#{library}/imports", {files: [{name: "Kazoo.flac", bytes: bytes.bytesize}]}).last["id"]
    half = bytes.bytesize / 2
    expect(api("put", "#{library}/imports/#{id}/files/1?from=0", bytes.byteslice(0, half)).last["landed"]).to eq(half)
    expect(api("put", "#{library}/imports/#{id}/files/1?from=#{half}", bytes.byteslice(half..)).last).to include("holds" => include("encoding" => "flac", "channels" => 1))
    expect(plan(id)["files"].first["role"]).to eq("kazoo")
    api("delete", "#{library}/imports/#{id}")
    expect([api("get", "#{library}/imports/#{id}").first, Dir.children(File.join(@folder, "import"))]).to eq([422, []])
  end

  describe "in the library" do
    def as(client, path, body) = api("post", path, body, "x-client" => client, "x-who" => client.capitalize)

    it "are edited under their version, and each browser takes its own back" do
      id = "low-tide-waltz"
      song = api("get", "#{library}/songs/#{id}").last
      stems = song["stems"].map { |stem| stem.slice("id", "name", "role") }
      before = show["songs"].first
      edited = as("ilse", "#{library}/songs/#{id}/edits", {version: song["version"], label: "Tempo", song: {bpm: 101.5}}).last
      expect([edited["bpm"], edited["undo"], show["songs"].first["bpm"]]).to eq([101.5, "Tempo", 101.5])
      late = as("mara", "#{library}/songs/#{id}/edits", {version: song["version"], song: {title: "Late"}})
      expect([late.first, late.last["error"]["message"]]).to match([409, include("\"Tempo\" by Ilse")])
      turned = as("mara", "#{library}/songs/#{id}/edits", {version: edited["version"], song: {stems: stems.reverse.map { |stem| stem.merge("role" => "marsh-#{stem["role"]}") }}}).last
      expect(turned["stems"].map { |stem| stem["role"] }).to eq(%w[marsh-tide marsh-organ])
      expect(as("ilse", "#{library}/songs/#{id}/undo", {}).last["error"]["message"]).to include("the song was changed since")
      expect(as("mara", "#{library}/songs/#{id}/undo", {}).last["stems"].map { |stem| stem["role"] }).to eq(%w[organ tide])
      expect(as("ilse", "#{library}/songs/#{id}/undo", {}).last["bpm"]).to eq(before["bpm"])
      expect(as("ilse", "#{library}/songs/#{id}/redo", {}).last["bpm"]).to eq(101.5)
      as("ilse", "#{library}/songs/#{id}/undo", {})
      expect(as("ilse", "#{library}/songs/#{id}/undo", {}).last["error"]["message"]).to include("nothing of yours")
    end

    it "have a tempo map and a click that are edited, refused where they say nothing, taken back, and read from and written to a MIDI file" do
      id = "low-tide-waltz"
      song = -> { api("get", "#{library}/songs/#{id}").last }
      change = ->(wish) { api("post", "#{library}/songs/#{id}/edits", {version: song.call["version"], label: "Map", song: wish}) }
      map = {meters: [{bar: 1, meter: "4/4"}, {bar: 3, meter: "6/8"}], tempi: [{bar: 1, bpm: 127.5, ramp: true}, {bar: 3, bpm: 90}], pickup_beats: 1}
      expect(change[{tempo: map, click: {accents: [1, 3], subdivide: 2, sound: "stick"}, count_in_bars: 2}].first).to eq(200)
      expect(song.call).to include("bpm" => 127.5, "beats_per_bar" => 4, "count_in_bars" => 2, "click" => {"accents" => [1, 3], "subdivide" => 2, "sound" => "stick"})
      expect(song.call["tempo"]["tempi"].map { |tempo| tempo.values_at("bar", "bpm", "ramp") }).to eq([[1, 127.5, true], [3, 90, false]])
      # A tempo that is typed is the map's first.
      expect(change[{bpm: 100}].last["tempo"]["tempi"].map { |tempo| tempo["bpm"] }).to eq([100, 90])
      expect([change[{tempo: {meters: [{bar: 1, meter: "4/3"}], tempi: [{bar: 1, bpm: 100}]}}], change[{click: {accents: [9]}}], change[{tempo: {meters: [{bar: 1, meter: "4/4"}], tempi: [{bar: 1, bpm: "x"}]}}]]
        .map { |status, answer| [status, answer.dig("error", "field")] }).to eq([[422, "meter"], [422, "accent"], [422, "bpm"]])
      address = URI("#{@installation.address}#{library}/songs/#{id}/tempo")
      midi = Net::HTTP.get(address)
      read = Net::HTTP.post(address, midi, "content-type" => "audio/midi").then { |answer| JSON.parse(answer.body) }
      expect(read["tempo"]["meters"]).to eq(song.call["tempo"]["meters"])
      expect(Rational(read["tempo"]["tempi"].first["bpm"]).to_f).to be_within(0.001).of(99.375)
      expect(JSON.parse(Net::HTTP.post(address, "RIFF", "content-type" => "audio/midi").body).dig("error", "message")).to match(/Standard MIDI File/)
      2.times { api("post", "#{library}/songs/#{id}/undo", {}) }
      expect(song.call["tempo"]).to be_nil
      expect(change[{bpm: nil}].last.values_at("bpm", "tempo")).to eq([nil, nil])
      api("post", "#{library}/songs/#{id}/undo", {})
    end

    it "have roles that are one list; new names say that nobody has settled them" do
      song = api("get", "#{library}/songs/low-tide-waltz").last
      stems = song["stems"].map { |stem| stem.slice("id", "name").merge("role" => "marsh-#{stem["role"].delete_prefix("marsh-")}") }
      as("roles", "#{library}/songs/low-tide-waltz/edits", {version: song["version"], song: {stems: stems}})
      as("roles", "#{library}/songs/low-tide-waltz/undo", {})
      expect(api("get", "#{library}/roles").last).to include(include("name" => "marsh-organ", "settled" => false, "hidden" => false), include("name" => "click", "hidden" => true))
      roles = api("put", "#{library}/roles/marsh-organ", {hidden: true, lanes: "pair"}).last
      expect(roles).to include({"name" => "marsh-organ", "hidden" => true, "lanes" => "pair", "settled" => true, "gain_db" => 0.0, "fold_db" => -6.0, "usual" => []})
      expect(api("put", "#{library}/roles/nobody", {hidden: true}).first).to eq(422)
    end

    it "have lanes and levels that are usual, which a show and one of its songs may have otherwise" do
      api("put", "#{library}/roles/tide", {gain_db: -3, fold_db: -4.5, usual: [30]})
      expect(api("put", "#{library}/roles/tide", {fold_db: -5}).last["error"]["field"]).to include("fold_db")
      tide = -> { api("get", "#{@installation.show}/roles").last["roles"].find { |role| role["name"] == "tide" } }
      expect(tide.call).to include("gain_db" => -3.0, "fold_db" => -4.5, "usual_lanes" => [30], "own_gain_db" => nil, "exceptions" => [])
      edit = ->(given) { api("post", "#{@installation.show}/edits", {version: show["version"], label: "Role", edit: given}).first }
      expect(edit[{kind: "role_terms", role: "tide", gain_db: 1}]).to eq(200)
      expect(edit[{kind: "role_terms", role: "tide", song: "low-tide-waltz", lanes: ["rec/lane-out/28"]}]).to eq(200)
      expect(tide.call).to include("gain_db" => 1.0, "usual_gain_db" => -3.0, "exceptions" => [include("title" => "Low tide waltz", "lanes" => ["rec/lane-out/28"])])
      expect(api("get", "#{@installation.show}/levels?target_lufs=-18").last.map { |one| one["title"] }).to eq(show["songs"].map { |song| song["title"] })
      2.times { api("post", "#{@installation.show}/undo", {version: show["version"]}) }
      api("put", "#{library}/roles/tide", {gain_db: 0, fold_db: -6, usual: []})
    end

    it "stand in a set list in an order, by an edit of the show that is undone as any other" do
      ids = show["songs"].map { |song| song["id"] }
      one = songs.map { |song| song["id"] }.find { |id| !ids.include?(id) } || ids.last
      set = ->(list) { api("post", "#{@installation.show}/edits", {version: show["version"], label: "Set list", edit: {kind: "set_list", songs: list}}) }
      expect(set[[one, "low-tide-waltz"]].last["show"]["songs"].map { |song| song["id"] }).to eq([one, "low-tide-waltz"])
      expect(set[["low-tide-waltz"]].first).to eq(200)
      expect(api("post", "#{@installation.show}/undo", {version: show["version"]}).last["show"]["songs"].map { |song| song["id"] }).to eq([one, "low-tide-waltz"])
      expect(set[%w[nobody]].last["error"]["message"]).to include("no song nobody in the library")
      expect(set[%w[low-tide-waltz low-tide-waltz]].last["error"]["message"]).to include("stands in it once")
      set[ids]
    end

    it "are found by words of their title, in pages" do
      expect(api("get",
        "#{library}/songs?search=tide%20low").last).to include("count" => 1, "songs" => [include("title" => "Low tide waltz", "roles" => %w[organ tide], "stems" => 2)])
      expect(api("get", "#{library}/songs?search=%25").last["count"]).to eq(0)
    end
  end
end
