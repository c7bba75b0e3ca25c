# frozen_string_literal: true

require "core_helper"
require "support/in_the_browser"
require "support/wav_files"

# A song opened: sections drawn over its waveform, and sounds of one's own in its click and its cues.
RSpec.describe "A song in the browser" do
  include_context "in the browser"

  song = "/api/library/songs/low-tide-waltz"

  before do
    @installation.perform(Loomshuttle::Demo.show(Loomshuttle::Demo.mended))
    whole = api("get", song).last
    api("post", "#{song}/edits", {version: whole["version"], song: {sections: [{id: "ebb", name: "Ebb", bar: 1}], arrangements: [], click: {}, cues: {}}})
    page.visit("#{@installation.address}/shows/#{@installation.show_id}/tracks")
    page.find("button", exact_text: "Low tide waltz").click
  end

  def api(...) = @installation.api(...)
  def sections = api("get", "/api/library/songs/low-tide-waltz").last["sections"].map { |one| one.values_at("name", "bar") }
  def cloth = page.find("[role=group][aria-label^='Low tide waltz, ']")

  # From the middle of one bar to the middle of another.
  def draw_over(from, to)
    bars = cloth["aria-label"][/(\d+) bars/, 1].to_i
    width = cloth.native.rect.width
    at = ->(bar) { ((bar - 0.5) / bars * width - width / 2).round }
    page.driver.browser.action.move_to(cloth.native, at[from], 0).click_and_hold.move_to(cloth.native, at[to], 0).release.perform
  end

  it "has a section drawn over bars, moved by keys, and taken back" do
    draw_over(3, 5)
    page.assert_text("Bars 3 to 5")
    page.fill_in("Section's name", with: "Flood\n")
    page.assert_selector("[aria-label='Where Flood begins'][aria-valuenow='3']")
    expect(sections).to eq([["Ebb", 1], ["Flood", 3], ["Ebb", 6]])
    page.find("[aria-label='Where Flood begins']").send_keys(:right, :enter)
    page.assert_selector("p, span", text: "Flood bar 4")
    expect(sections).to eq([["Ebb", 1], ["Flood", 4], ["Ebb", 6]])
    2.times { page.click_button("Undo").then { page.assert_no_selector("[role=alert]") } }
    page.assert_no_selector("[aria-label='Where Flood begins']")
    expect(sections).to eq([["Ebb", 1]])
  end

  it "is measured where nobody has, and shows its waveform then" do
    page.assert_text("Nobody has measured this song yet")
    page.click_button("Measure now")
    page.assert_no_text("Nobody has measured this song yet")
    page.assert_no_text("loudness not known")
    expect(api("get", song).last["stems"].map { |stem| stem["loudness_lufs"].nil? }.uniq).to eq([false])
  end

  it "takes a sound of one's own for its click, and one as a cue" do
    rim = File.join(@installation.folder, "rim.wav")
    File.binwrite(rim, WavFiles.pcm16(Array.new(400) { |n| ((400 - n) * 60) * (n.even? ? 1 : -1) }))
    page.find("[aria-label='Click'] [role=combobox]", text: "Beep").click
    page.find("li", text: "One of your own").click
    page.attach_file("Sound file for the click", rim, make_visible: true)
    page.assert_selector("[aria-label='Click'] [role=combobox]", text: "rim (")
    id = api("get", "/api/library/sounds").last["sounds"].first["id"]
    expect(api("get", song).last["click"]).to eq("sound" => "own", "own" => {"beat" => id})
    page.within("[aria-label='Spoken cues']") do
      page.fill_in("At bar", with: "2")
      page.find("[role=combobox]", text: "None").click
    end
    page.find("li", text: "rim (").click
    page.click_button("Play it there")
    page.assert_text("sound: rim")
    expect(api("get", song).last["cues"]["said"]).to eq([{"bar" => 2, "text" => "rim", "sound" => id}])
  end
end
