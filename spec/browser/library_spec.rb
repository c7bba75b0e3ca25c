# frozen_string_literal: true

require "core_helper"
require "support/in_the_browser"
require "support/wav_files"
require "zip"
require_relative "../../boot/server"

# Many shows and their songs as engineers meet them: which is on air, what plays, what is put away.
RSpec.describe "Shows and songs" do
  include_context "in the browser"

  def make(name, **more) = @installation.api("post", "/api/shows", {name: name, **more}).last.fetch("id")
  def home = page.visit("#{@installation.address}/")
  def in_dialog(&) = page.within("[role=dialog]", &)
  def open_show(id, step) = page.visit("#{@installation.address}/shows/#{id}/#{step}")
  def api(path) = @installation.api("get", path).last

  it "plans one show while another is on air, and puts it on air when somebody says which way" do
    id = make("Tide songs", copy: 1)
    open_show(id, "patch")
    page.assert_text("not on air")
    expect(page.current_path).to eq("/shows/#{id}-tide-songs/patch")
    @installation.api("post", "/api/shows/#{id}/edits", {version: 1, edit: {kind: "power", sockets: ["box-a/mic/5"]}})
    # What is planned here touches nothing there.
    expect([@installation.api("get", "/api/shows/1/desk").last["count"], api("/api/shows/#{id}/desk")["count"]]).to eq([0, 0])
    go("Capture")
    page.assert_text("This show is not on air")
    expect(page.find_button("Start the take", disabled: true)).to be_disabled
    expect(page.find("[data-peak='1']").text).to eq("—")
    page.click_button("Put it on air")
    in_dialog do
      page.assert_text("Lanterns over Saltmarsh is on air now")
      page.assert_text("The desk differs from this plan in 1 place:")
      page.assert_selector("li", text: "Box A socket 5 phantom power is off, planned: on")
      expect(page.find_button("Put on air", disabled: true)).to be_disabled
      page.find("label", text: "Only watch").click
      page.click_button("Put on air")
    end
    page.assert_selector("header", text: "on air, watching")
    @installation.wait("the drift") { api("/api/shows/#{id}/desk")["count"] == 1 }
    page.assert_selector("[data-peak='1']", text: /−\d/)
    page.click_button("on air, watching")
    in_dialog do
      page.find("label", text: "Send the plan to the desk").click
      page.click_button("Do it")
    end
    @installation.wait("the desk") { api("/api/shows/#{id}/desk")["count"] == 0 }
    acts = ["Put on air: the plan sent to the desk", "Put on air: the desk is only watched"]
    @installation.wait("both acts in the history") { api("/api/shows/#{id}/history").map { |one| one["label"] }.first(2) == acts }
    # The other show records nothing now; this one cannot be put away.
    expect(@installation.api("post", "/api/shows/1/capture/start", {}).last["error"]["message"]).to include("put this one on air first")
    expect(@installation.api("put", "/api/shows/#{id}/place", {place: "bin"}).last["error"]["message"]).to include("not on air")
    page.go_back
    page.assert_selector("main h2", text: "Patch")
    page.go_forward
    page.assert_selector("main h2", text: "Capture")
    @installation.api("post", "/api/shows/1/on-air", {direction: "send"})
    page.assert_selector("header", text: "not on air")
  end

  it "speaks to another desk, typed or found, and asks for the direction anew" do
    open_show(1, "capture")
    page.find("header button", text: "on air").click
    shipped = api("/api/desk")["address"]
    in_dialog do
      page.assert_text("Desk at #{shipped}, it answers.")
      page.click_button("Another desk")
      page.fill_in("The desk's address", with: "10.0.0.300:7600")
      page.click_button("Speak to this desk")
      page.assert_text("each of its four numbers from 0 to 255")
      # Nobody listens at this one.
      page.fill_in("The desk's address", with: "127.0.0.1:9")
      page.click_button("Speak to this desk")
      page.assert_text("Desk at 127.0.0.1:9, it does not answer.")
      page.assert_text("The desk does not answer. Until it answers, the show can only be put on air to watch.")
      expect(page.find_button("Do it", disabled: true)).to be_disabled
      page.click_button("Another desk")
      page.click_button("Look for desks")
      page.find("[aria-label='Desks that answer'] [role=button]", text: shipped).click
      page.click_button("Speak to this desk")
      page.assert_text("Desk at #{shipped}, it answers.")
      page.assert_text("The desk has what this show plans.")
      page.find("label", text: "Send the plan to the desk").click
      page.click_button("Do it")
    end
    page.assert_no_selector("[role=dialog]")
    expect(api("/api/shows/1")["follows"]).to be(true)
  end

  it "takes the desk's state into the plan as an edit that is undone as any other" do
    id = make("Takes over", copy: 1)
    socket = OSC::Client.new("127.0.0.1", @installation.services.ports["osc"])
    # A stage that is still being set up forgets it: it is turned until it is seen.
    @installation.wait("the drift") do
      socket.send(OSC::Message.new("/power", 77, "box-a/mic/4", 1))
      api("/api/shows/1/desk")["count"] == 1
    end
    open_show(id, "rig")
    page.click_button("not on air")
    in_dialog do
      page.find("label", text: "Take the desk's state").click
      page.click_button("Put on air")
    end
    page.assert_no_selector("header", text: "not on air")
    expect(api("/api/shows/#{id}")["rows"][3]).to include("powered" => true)
    expect(api("/api/shows/#{id}/desk")["count"]).to eq(0)
    go("Patch")
    page.click_button("Undo")
    @installation.wait("the desk to follow") { api("/api/shows/#{id}")["rows"][3]["powered"] == false && api("/api/shows/#{id}/desk")["count"] == 0 }
  ensure
    @installation.api("post", "/api/shows/1/on-air", {direction: "send"})
  end

  it "is listed with what is open in it, found, archived, binned, brought back, and deleted by its name" do
    id = make("Marsh ball", venue: "Village hall", date: "2027-01-10", copy: 1)
    home
    page.assert_selector("[data-show='#{id}']", text: /Marsh ball.*Village hall.*10 Jan 2027.*stop.*none/m)
    page.assert_selector("[data-show='1']", text: "on air")
    page.fill_in("Name, venue or date", with: "village 2027")
    page.assert_selector("[data-show]", count: 1)
    page.within("[data-show='#{id}']") { page.click_button("Archive") }
    page.assert_text("No show here has")
    page.click_button("Archive 1")
    page.within("[data-show='#{id}']") { page.click_button("Bring back") }
    page.click_button("At hand", exact: false)
    page.within("[data-show='#{id}']") { page.find_button("Put Marsh ball into the bin").click }
    page.click_button("Bin 1")
    page.assert_selector("[data-show='#{id}']", text: "30 days left")
    page.click_button("Delete Marsh ball for good")
    in_dialog do
      page.assert_text("No take goes with it")
      expect(page.find_button("Delete it", disabled: true)).to be_disabled
      page.fill_in("Write \"Marsh ball\" to delete it", with: "Marsh ball")
      page.click_button("Delete it")
    end
    page.assert_no_selector("[data-show='#{id}']")
    expect(@installation.api("get", "/api/shows/#{id}").first).to eq(422)
  end

  it "leads from nothing to 32 recorded tracks in a few acts" do
    acts = 0
    act = ->(&block) { (acts += 1) && block.call }
    home
    act.call { page.click_button("New show") }
    act.call { page.within("[role=dialog]") { page.fill_in("Name", with: "N") } }
    act.call { page.click_button("Make it") }
    guide = ->(&block) { page.within("[aria-label='What is missing next']", &block) }
    guide.call { page.assert_text("First the gear") }
    act.call { guide.call { page.click_button("Add") } }
    guide.call { page.assert_text("Then the input list") }
    act.call { guide.call { page.click_button("Add") } }
    act.call { guide.call { page.click_button("Run every row through to a track") } }
    act.call { guide.call { page.click_button("Put it on air") } }
    act.call { page.find("label", text: "Send the plan to the desk").click }
    act.call { page.click_button("Put on air") }
    act.call { guide.call { page.click_button("To Capture") } }
    page.assert_text("32 of 32 tracks armed")
    act.call { page.click_button("Start the take") }
    page.assert_selector("header", text: /take 1, 00:0\d:(0[2-9]|[1-5]\d)/)
    id = page.current_path[%r{/shows/(\d+)}, 1]
    @installation.api("post", "/api/capture/stop", {})
    take = @installation.wait("the take") { api("/api/shows/#{id}/takes")["takes"].find { |one| one["state"] == "closed" } }
    expect([take["files"].size, take["lost_frames"]]).to eq([32, 0])
    expect(take["files"].map { |file| file["was"] }).to include(include("source" => "Input 7", "lane" => 7, "tap" => "raw", "gear" => "Stage box 32x16 socket 7"))
    page.assert_no_selector("[aria-label='What is missing next']")
    expect(acts).to be <= 40
    # What was made by hand is looked at like the demo: its tracks have ids that say nothing.
    page.click_button("Takes")
    page.assert_selector("button[aria-label^='Listen to Input']", count: 32)
    labels = page.all("button[aria-label^='Listen to Input']").map(&:text)
    expect(labels).to eq((1..32).map { |n| format("%02d Input %d", n, n) })
    page.click_button("Listen to Input 7")
    page.assert_selector("audio[aria-label='One track of Take 1']", visible: :all)
    make_zip_a_take
  ensure
    @installation.api("post", "/api/capture/stop", {})
    @installation.api("post", "/api/shows/1/on-air", {direction: "send"})
  end

  # A ZIP of somebody's files, two of which are called as nothing is.
  def make_zip_a_take
    go("Soundcheck")
    page.click_button("Bring in a recording")
    page.attach_file("WAV files", zip_of_inputs, make_visible: true)
    page.assert_selector("[role=dialog] tbody tr", count: 4)
    page.assert_text("Left out, without a track")
    page.find("[role=dialog] tr", text: "mystery").find("[role=combobox]").click
    page.find("[role=option]", text: "Input 31").click
    page.fill_in("Name of the take", with: "Somebody's")
    page.click_button("Make it a take")
    page.assert_selector("section[aria-label=Takes]", text: "3 tracks · imported")
    go("Capture")
    page.click_button("Takes")
    page.find("[aria-label=Takes] [role=button]", text: "Somebody's").click
    rows = page.all("[role=group] button[aria-label^='Listen to']", count: 3).map(&:text)
    expect(rows).to eq(["03 Input 3", "05 Input 5", "31 mystery"])
    page.assert_no_text(/undefined|NaN|does not match/)
  end

  def zip_of_inputs
    tone = WavFiles.pcm16(Array.new(9600) { |n| (8000 * Math.sin(n / 20.0)).round })
    zip = Zip::OutputStream.write_buffer do |out|
      ["show/Input 3.wav", "show/Input 5.wav", "show/mystery.wav", "show/left out.wav"].each do |name|
        out.put_next_entry(name)
        out.write(tone)
      end
    end
    File.join(@folder, "somebody.zip").tap { |path| File.binwrite(path, zip.string) }
  end

  describe "a song" do
    # A stereo MP3: one tone on the left, another on the right.
    def song_folder
      File.join(@folder, "Ebb song").tap do |folder|
        FileUtils.mkdir_p(folder)
        system("ffmpeg", "-nostdin", "-v", "error", "-y", "-f", "lavfi", "-i", "aevalsrc=0.5*sin(2764*t)|0.25*sin(4146*t):s=44100:d=20", File.join(folder, "Marsh organ.mp3"), exception: true)
        system("ffmpeg", "-nostdin", "-v", "error", "-y", "-f", "lavfi", "-i", "sine=frequency=110:duration=20:sample_rate=48000", File.join(folder, "Bass.wav"), exception: true)
      end
    end

    it "is made of a folder's files, mended onto lanes, and a stereo MP3 plays into both of its own" do
      open_show(1, "tracks")
      page.click_button("New song")
      page.attach_file("Sound files", Dir[File.join(song_folder, "*")].sort, make_visible: true)
      page.assert_selector("table[aria-label=Stems] tbody tr", count: 2)
      expect([page.find_field("Role of Bass").value, page.find_field("Role of Marsh organ").value]).to eq(%w[bass organ])
      page.fill_in("Title", with: "Ebb song")
      page.find_field("Role of Marsh organ").set("marsh organ").send_keys(:enter)
      page.click_button("Make the song")
      page.assert_selector("[data-song^='ebb-song']", text: /no click.*marsh-organ/)
      page.assert_selector("[data-rule='unassigned-role']", text: "Bass and marsh-organ have no output")
      page.within("[data-rule='unassigned-role']") { page.click_button("Mend: lay bass on lane 25 and marsh-organ on lane 26–27") }
      page.assert_no_selector("[data-rule='unassigned-role']")
      page.click_button("Play Ebb song")
      peaks = @installation.wait("both sides") do
        found = @installation.deck(do: "status").dig("playing", "peak_dbfs")
        found if found.to_a.values_at(25, 26).all? { |peak| peak.to_f.between?(-20, -1) }
      end
      # 0.5 and 0.25 of full scale: -6 and -12 dBFS, MP3 and conversion a little beside it; nothing on a lane of its neighbour.
      expect(peaks.values_at(25, 26)).to match([be_within(0.7).of(-6.0), be_within(0.7).of(-12.0)])
      expect(peaks[24]).to be > -25
      page.click_button("Stop", match: :first)
      page.assert_selector("button", text: "Play", minimum: 2)
    end

    # One of the library, whose files nobody plays here.
    def second_song
      database = Loomshuttle::Server::Store::Database.connect(@installation.services.database_url)
      songs = Loomshuttle::Server::Store::Songs.new(database)
      songs.create({id: "tide-song", title: "Tide song", bpm: nil, sample_rate_hz: 48_000, length_frames: 48_000, folder: "tide-song"}, [])
      @installation.api("post", "/api/shows/1/edits", {version: api("/api/shows/1")["version"], edit: {kind: "set_list", songs: %w[low-tide-waltz tide-song]}})
    ensure
      database&.disconnect
    end

    it "stands where somebody puts it in the set list, by keys as well" do
      second_song
      open_show(1, "tracks")
      page.assert_selector("[data-song]", count: 2)
      handle = page.find_button("Move Low tide waltz")
      page.execute_script("arguments[0].focus()", handle)
      # The next key counts when the one before is done: the list says what it holds.
      handle.send_keys(:space)
      page.assert_selector("[role=status]", text: /Low tide waltz is (picked up|held)/, visible: :all)
      handle.send_keys(:down)
      page.assert_selector("[role=status]", text: "Low tide waltz is held at place 2.", visible: :all)
      handle.send_keys(:space)
      @installation.wait("the order") { api("/api/shows/1")["songs"].map { |song| song["title"] } == ["Tide song", "Low tide waltz"] }
      page.assert_selector("[data-song]:first-of-type", text: "Tide song")
    end

    it "whose making is stopped leaves nothing behind" do
      folder = File.join(@folder, "Long song").tap { |path| FileUtils.mkdir_p(path) }
      system("ffmpeg", "-nostdin", "-v", "error", "-y", "-f", "lavfi", "-i", "sine=frequency=200:duration=240:sample_rate=44100", File.join(folder, "Part 1.flac"), exception: true)
      (2..36).each { |n| FileUtils.cp(File.join(folder, "Part 1.flac"), File.join(folder, "Part #{n}.flac")) }
      open_show(1, "tracks")
      page.click_button("New song")
      page.attach_file("Sound files", Dir[File.join(folder, "*")].sort, make_visible: true)
      page.fill_in("Title", with: "Long song")
      page.click_button("Make the song")
      page.find("[data-testid=tasks]", text: /of 36 files/).click
      in_dialog do
        page.assert_text("Making the song Long song")
        page.click_button("Stop")
        page.assert_selector("[data-state=stopped]")
      end
      expect(api("/api/library/songs?search=long")["count"]).to eq(0)
      expect(Dir.children(File.join(@folder, "songs")).grep(/making|long/)).to eq([])
      @installation.wait("the files to go") { Dir.empty?(File.join(@folder, "import")) }
    end
  end
end
