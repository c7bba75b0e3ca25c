# frozen_string_literal: true

require "core_helper"
require "support/in_the_browser"
require "support/fingers"
require "support/wav_files"

# A whole virtual soundcheck on the page: somebody's folder with odd names, matched and settled; the desk swung and
# proved by ear, two crossed lanes mended; played, looped, swung back and proved.
RSpec.describe "A virtual soundcheck" do
  include_context "in the browser"

  names = ["Kick", "Snare", "Accordion", "Narrator", "Cimbalom L", "Cimbalom R", "Tuba", "Toy piano"]

  before(:all) do
    @installation.start("ear")
    taps = (1..8).to_h { |n| ["desk/card-send/#{n}", {from: "desk/channel/#{n}", tap: "in"}] }
    @installation.perform(hall("desk-48", slots: taps, rows: names.map.with_index(1) { |name, n| {id: "list/row/#{n}", name: name} },
      tracks: names.map.with_index(1) { |name, n| {id: "rec/track/#{n}", name: name, row: "list/row/#{n}", armed: true} }))
    @installation.wait("engine and desk") { simulate(do: "unplant").first == 200 && @installation.engine(do: "status").dig("device", "lanes") == 48 }
  end

  def simulate(**wish) = @installation.api("post", "#{@installation.show}/simulation", wish)
  def heard = page.find("[data-testid=proof]")

  # A machine that is busy may lose a block of the card; then it says so, and is sent again.
  def send_ping(button, words)
    6.times do
      page.click_button(button)
      page.assert_no_selector("[aria-label='The ping is being sent']")
      return page.assert_selector("[data-testid=proof]", text: words) if page.has_selector?("[data-testid=proof]", text: words, wait: 3)
    end
    page.assert_selector("[data-testid=proof]", text: words)
  end

  def lay_misc
    page.within("[role=dialog]") { ["files/part/4", "rec/track/4"].each { |knot| page.find("[data-knot='#{knot}']").click } }
  end

  def files
    tone = ->(height) { WavFiles.pcm16((0...96_000).map { |n| (Math.sin(n / 20.0) * height).round }) }
    ["Abend-07_Bassdrum.wav", "Abend-02_Snaer.wav", "Abend-11_Akkordeon.wav", "Abend-09_misc.wav"].map.with_index(1) do |name, n|
      File.join(@folder, name).tap { |path| File.binwrite(path, tone[2_000 * n]) }
    end
  end

  it "goes from a folder with odd names to a stage that is proved to be back" do
    visit(page, "soundcheck")
    page.click_button("Bring in a recording")
    page.attach_file("WAV files", files, make_visible: true)
    page.assert_selector("[role=dialog] tbody tr", count: 4)
    {"Bassdrum" => "Kick", "Snaer" => "Snare", "Akkordeon" => "Accordion"}.each { |file, track| expect(page.find("[role=dialog] tbody tr", text: file)).to have_selector("[role=combobox]", text: track) }
    page.assert_text("Left out, without a track: Abend-09_misc.")
    page.click_button("On the loom")
    lay_misc
    page.assert_selector("[data-strand='files/part/4>rec/track/4']", visible: :all)
    page.assert_no_text("Left out")
    page.click_button("Take the last step back")
    page.assert_text("Left out, without a track: Abend-09_misc.")
    lay_misc
    page.assert_no_text("Left out")
    page.fill_in("Name of the take", with: "Last night")
    page.click_button("Make it a take")
    page.assert_selector("section[aria-label=Takes]", text: "4 tracks · imported")

    page.click_button("Swing to the recorder")
    page.assert_selector("header[data-feed=recorder]")
    @installation.wait("the desk") { @installation.api("get", "#{@installation.show}/desk").last.values_at("count", "fault") == [0, nil] }
    expect(simulate(do: "plant", kind: "crossed", row: "list/row/2", other: "list/row/3").first).to eq(200)
    send_ping("Send the ping", "2 and 3 are crossed.")
    expect(heard).to have_text("6 of 8 come back as planned.")
    expect(heard).to have_selector("li", text: "Set channel 2 to USB return 2.")
    page.assert_selector("svg[aria-label='The way back as it was heard'] [data-heard='2 desk/channel/3']", visible: :all)
    expect_accessible("night")
    page.within("[data-testid=proof]") { page.click_button("Plan it as it was heard") }
    page.assert_text("The patch is another since.")
    @installation.wait("the desk") { @installation.api("get", "#{@installation.show}/desk").last.values_at("count", "fault") == [0, nil] }
    send_ping("Send the ping", "All 8 come back as planned.")

    page.click_button("Play in a loop: Last night")
    page.assert_selector("section[aria-label=Player]")
    kick = page.find("[data-track='1'] [aria-label='Kick at the desk']")
    @installation.wait("the kick from disk") { kick["aria-valuenow"].to_i > -40 }
    page.find("[role=slider][aria-label='Place in Last night']").send_keys(:home)
    page.driver.browser.action.move_to(page.find("[role=slider]").native, -50, 0).click_and_hold.move_by(120, 0).release.perform
    page.assert_selector("section[aria-label=Player] button", text: /Goes round 00:00:0\d to 00:00:0\d/)
    page.click_button("Take Kick out")
    @installation.wait("silence") { kick["aria-valuenow"].to_i <= -60 }
    page.find("body").send_keys(:space)
    page.assert_selector("section[aria-label=Player]", text: "paused")
    # Another who operates sees the same, on a phone.
    hand = Capybara::Session.new(:loom)
    fingers = Fingers.new(hand, width: 390, height: 844)
    hand.visit("#{@installation.address}/shows/#{@installation.show_id}/soundcheck")
    hand.assert_selector("section[aria-label=Player]", text: "paused")
    expect([fingers.beyond, fingers.small]).to eq([[], []])
    hand.click_button("Go on")
    page.assert_selector("section[aria-label=Player] [aria-label=Pause]")
    hand.click_button("Stop playing")
    page.assert_no_selector("section[aria-label=Player]")
    hand.quit

    page.click_button("Swing back to the stage")
    page.assert_selector("header[data-feed=stage]")
    page.assert_selector("[data-testid=back]", text: "Not what it was before the soundcheck:")
    send_ping("Only which side", "Heard: the desk listens to the stage, as planned.")
    page.assert_selector("[data-testid=back]", text: "Heard: nothing comes back from the recorder.")
  end

  it "brings two tracks back on one lane, at a level that is shown, and takes that back" do
    visit(page, "soundcheck")
    page.click_button("How Narrator comes back: lane 4")
    page.find("[role=combobox]", text: "lane 4").click
    page.find("[role=option]", text: "lane 1, with Kick").click
    page.find("[role=combobox]", text: "−3 dB").click
    page.find("[role=option]", text: "−6 dB, where they are alike").click
    page.assert_selector("button[aria-label='How Narrator comes back: lane 1, with Kick at −6 dB']", visible: :all)
    page.send_keys(:escape)
    page.assert_no_selector("[role=presentation] [role=combobox]")
    expect_accessible("day")
    expect(page.find("section[aria-label=Levels] [data-track='1']")).to have_text("lane 1, with Narrator at −6 dB")
    page.assert_selector("[data-strand='rec/track/4>rec/lane-out/1']", visible: :all)
    page.click_button("How Narrator comes back", exact: false)
    page.find("[role=combobox]", text: "with Kick").click
    page.find("[role=option]", text: "none with another").click
    page.assert_text("1 track comes back on no lane yet.")
    page.send_keys(:escape)
    page.click_button("Lay it on return lanes")
    page.assert_selector("button[aria-label='How Narrator comes back: lane 4']")
  end
end
