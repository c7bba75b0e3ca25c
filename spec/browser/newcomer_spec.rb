# frozen_string_literal: true

require "core_helper"
require "support/in_the_browser"
require "support/wav_files"

# A newcomer's first five minutes through the real interface, server, engine and stand-in.
RSpec.describe "The newcomer's first five minutes" do
  include_context "in the browser"

  # Each example begins with the demo as it ships, nothing recording and nothing playing.
  before do
    %w[capture playing].each { |what| @installation.api("post", "/api/#{what}/stop", {}) }
    @installation.perform(File.read(File.join(Loomshuttle::ROOT, "demo/lanterns.loom.json")))
    visit(page, "")
  end

  def knot(id) = page.find("[data-knot='#{id}']")
  def listener_level(name) = page.find(%([aria-label="#{name} level"]))["aria-valuenow"].to_i
  def click_finding(rule, button) = page.within("[data-rule='#{rule}']") { page.click_button(button) }

  it "sees the rig, mends, records, swings, plays back, swings back, and hears click and tracks apart" do
    page.assert_text("Lanterns over Saltmarsh")
    page.assert_text("leads the clock")
    page.assert_selector("[aria-label='Cable from Box A, AES50 to Quay desk, AES50 A']", visible: :all)
    page.assert_selector("[data-device='box-a']", text: "12 + 2 of 48, 40 m")

    go("Patch")
    knot("list/row/9").hover
    page.assert_selector("[data-testid=sentence]", text: "card lane 9 listens to local socket 9, where nothing is plugged: track 9 would record silence")
    page.assert_selector("[data-fray='rec/track/9']")
    click_finding("silent-lane", "Mend: take Box A socket 9–12")
    page.assert_no_selector("[data-rule='silent-lane']")
    page.assert_no_selector("[data-fray]")
    knot("list/row/9").hover
    page.assert_selector("[data-testid=sentence]", text: "recorded on track 9.")

    go("Capture")
    page.click_button("Start the take")
    page.assert_selector("header", text: /take \d+, 00:0\d:(0[2-9]|[1-5]\d)/)
    page.find("body").send_keys(:space, :escape, "s")
    page.assert_selector("button", text: "Hold to stop")
    hold("Hold to stop")
    page.assert_text(/Take \d+ is 00:00:\d\d long, no block lost: stopped by hand/)
    take = @installation.api("get", "#{@installation.show}/takes").last["takes"].first
    expect(take["files"].size).to eq(12)

    go("Soundcheck")
    page.assert_text("Checked: there and back, the whole desk ends at the very same patch.")
    page.click_button("Swing to the recorder")
    page.assert_selector("header[data-feed=recorder]")
    page.click_button("Play in a loop: #{take["name"]}")
    accordion = page.find("[data-track='9'] [aria-label='Accordion at the desk']")
    @installation.wait("the accordion from disk") { accordion["aria-valuenow"].to_i > -40 }
    page.assert_selector("[data-track='9'] [aria-label='Accordion in the file']:not([aria-valuenow='-60'])")
    # Somebody steps up to a microphone meanwhile: his channel alone comes back.
    page.within("section[aria-label=Swing]") { page.find("label", text: "Narrator").click }
    page.assert_selector("[data-testid='plan-anew']", text: "Channel 12 comes back to the stage.")
    page.click_button("Turn only these")
    page.assert_selector("[data-track='12']", text: "stage")
    page.assert_selector("[data-track='9']", text: "recorder")
    page.click_button("Swing back to the stage")
    page.assert_selector("header[data-feed=stage]")
    page.within("header") { page.click_button("Stop") }

    go("Tracks")
    click_finding("click-reach", "Mend: take channel 31 off Stream L and Stream R")
    page.assert_text("1 worth knowing")
    @installation.wait("the desk") { @installation.api("get", "#{@installation.show}/desk").last["count"] == 0 }
    page.click_button("Play Low tide waltz")
    # The drummer's in-ear has no microphones: what it gives is click and tracks alone.
    @installation.wait("the click in the drummer's ear") { listener_level("Drummer's in-ear") > -20 }
    page.assert_text(/bar \d, beat \d/)
    page.find("[data-knot='songs/role/click']").hover
    page.assert_selector("[data-testid=sentence]", text: "heard at Booth wedge, Drummer's in-ear.")
  end

  it "keeps the click out of the stream's own samples" do
    mute_stage
    go("Tracks")
    click_finding("click-reach", "Mend: take channel 31 off Stream L and Stream R")
    page.assert_no_selector("[data-rule='click-reach']")
    solo_click
    page.click_button("Play Low tide waltz")
    @installation.wait("the click in the drummer's ear") { listener_level("Drummer's in-ear") > -20 }
    expect(%w[Main\ PA Livestream].map { |name| listener_level(name) }).to eq([-60, -60])
  end

  it "patches by drag, by click and click, by keyboard alone, and undoes" do
    go("Patch")
    page.driver.browser.action.move_to(knot("desk/card-send/13").native).click_and_hold.move_to(knot("rec/track/13").native).release.perform
    page.assert_selector("[data-strand='desk/card-send/13>rec/track/13']", visible: :all)
    page.find("body").send_keys([:control, "z"])
    page.assert_no_selector("[data-strand='desk/card-send/13>rec/track/13']", visible: :all)

    knot("desk/card-send/14").click
    page.assert_text("Holding")
    knot("rec/track/14").click
    page.assert_selector("[data-strand='desk/card-send/14>rec/track/14']", visible: :all)

    loom = page.find("svg[aria-label='Patch loom']")
    page.execute_script("arguments[0].focus()", loom)
    # From wherever the pointer lies: left to the input list, right to the lanes, lane 15 by
    # its number; then a run of two, straight onward to the tracks.
    loom.send_keys(:left, :left, :left, :left, :right, :right, :right, "1", "5", :enter, %i[shift down], :right, :enter)
    page.assert_selector("[data-strand='desk/card-send/15>rec/track/15']", visible: :all)
    page.assert_selector("[data-strand='desk/card-send/16>rec/track/16']", visible: :all)
    page.click_button("Undo")
    page.assert_no_selector("[data-strand='desk/card-send/16>rec/track/16']", visible: :all)
    page.assert_selector("[data-strand='desk/card-send/14>rec/track/14']", visible: :all)
  end

  it "says why a thread cannot be laid, and leaves everything as it was" do
    before = @installation.api("get", @installation.show).last.values_at("version", "undo")
    go("Patch")
    knot("box-a/mic/3").click
    knot("desk/channel/1").click
    page.assert_text("would put the block out of line")
    expect(@installation.api("get", @installation.show).last.values_at("version", "undo")).to eq(before)
    page.assert_selector("[data-strand='box-a/mic/1>desk/channel/1']", visible: :all)
  end

  it "keeps a finding on purpose, and lists it again" do
    click_finding("silent-lane", "Meant so")
    page.fill_in("Why it is meant", with: "the band sits in the pit")
    click_finding("silent-lane", "Leave it so")
    page.assert_selector("[data-rule='silent-lane']", text: "Left on purpose by engineer: the band sits in the pit")
    click_finding("silent-lane", "List again")
    page.assert_selector("[data-rule='silent-lane']", text: "Stop")
  end

  it "brings in a recording, with what did not match settled by hand" do
    files = {"1 kick.wav" => WavFiles.pcm16([100] * 48_000), "unknown.wav" => WavFiles.pcm16([50] * 48_000)}.map { |name, bytes|
      File.join(@folder, name).tap do |path|
        File.binwrite(path, bytes)
      end
    }
    go("Soundcheck")
    page.click_button("Bring in a recording")
    page.attach_file("WAV files", files, make_visible: true)
    page.assert_selector("[role=dialog] tbody tr", count: 2)
    page.assert_text("Stays silent, without a file: Hurdy-gurdy")
    page.find("tr", text: "unknown.wav").find("[role=combobox]").click
    page.find("[role=option]", text: "Narrator").click
    page.fill_in("Name of the take", with: "From elsewhere")
    page.click_button("Make it a take")
    page.assert_selector("section[aria-label=Takes]", text: "2 tracks · imported")
  end

  it "saves the show as a file, refuses a broken one, and makes another show of a good one" do
    go("Rig")
    expect(page.find_link("Save the show")[:href]).to end_with("#{@installation.show}/file")
    page.click_link("All shows")
    broken = File.join(@folder, "broken.loom.json").tap { |path| File.write(path, "{\"version\": 9}") }
    page.attach_file("Show file", broken, make_visible: true)
    page.assert_selector("[role=dialog]", text: /broken.loom.json: .*a newer one wrote this file/)
    page.click_button("Close")
    other = JSON.parse(File.read(File.join(Loomshuttle::ROOT, "demo/lanterns.loom.json"))).merge("name" => "Lanterns, second night")
    page.attach_file("Show file",
      File.join(@folder, "second.loom.json").tap { |path| File.write(path, JSON.generate(other)) },
      make_visible: true)
    page.assert_selector("header h1", text: "Lanterns, second night")
    page.click_link("All shows")
    page.find("[data-show='#{@installation.show_id}'] a").click
    page.assert_selector("header h1", text: "Lanterns over Saltmarsh")
  end

  it "says at once when the desk is killed while recording, goes on by itself when it is back" do
    go("Capture")
    page.click_button("Start the take")
    page.assert_selector("header", text: /00:0\d:(0[1-9]|[1-5]\d)/)
    @installation.kill("standin")
    page.assert_text("The engine has lost its audio device")
    page.assert_selector("[data-alarm]", text: /broke off .*the device went away/)
    @installation.start_process("standin")
    page.assert_no_text("The engine has lost its audio device")
    page.assert_text("engine ✓")
  end

  it "says at once when server or engine go away, and recovers by itself" do
    @installation.kill("engine")
    page.assert_text("The audio engine does not answer")
    @installation.start_process("engine")
    page.assert_no_text("The audio engine does not answer")
    @installation.kill("server")
    page.assert_text("The server does not answer")
    @installation.start("server")
    page.assert_no_text("The server does not answer")
  end

  it "loads nothing from elsewhere and writes no error to the console" do
    %w[Patch Capture Soundcheck Tracks].each { |step| go(step) }
    hosts = page.evaluate_script("performance.getEntriesByType('resource').map(entry => new URL(entry.name).host)").uniq
    expect(hosts).to eq([URI(@installation.address).host + ":#{URI(@installation.address).port}"])
  end

  private

  def hold(label)
    button = page.find("button", text: label)
    page.driver.browser.action.click_and_hold(button.native).perform
    page.assert_no_selector("button", text: label)
    page.driver.browser.action.release.perform
  end

  # Turns the band down so that meters show what comes from disk.
  def desk = @desk ||= UDPSocket.new.tap { |socket| socket.connect("127.0.0.1", @installation.services.ports["osc"]) }
  def mute_stage = (1..12).each { |n| desk.send(OSC::Message.new("/mute", n, "desk/channel/#{n}", 1).encode, 0) }
  def solo_click = [29, 30].each { |n| desk.send(OSC::Message.new("/mute", n, "desk/channel/#{n}", 1).encode, 0) }
end
