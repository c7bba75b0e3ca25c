# frozen_string_literal: true

require "core_helper"
require "support/in_the_browser"

# Roles laid on lanes, mixed and given to one song otherwise, by hand; what the deck plays then arrives at the desk.
RSpec.describe "Roles and lanes in the browser" do
  include_context "in the browser"

  before do
    @installation.perform(Loomshuttle::Demo.show(Loomshuttle::Demo.mended))
    page.visit("#{@installation.address}/shows/#{@installation.show_id}/tracks")
  end

  def api(...) = @installation.api(...)
  def table = api("get", "#{@installation.show}/roles").last
  def tick(label) = page.find(:checkbox, label, visible: :all).set(true)

  def on_lanes(label, *numbers)
    page.find("[aria-label='#{label}']").click
    numbers.each { |number| page.find("li[role=option]", text: /\A#{number}\b/).click }
    page.find("[aria-label='#{label}']").send_keys(:escape)
  end

  it "has a mix with the click in it found at the audience, mended, and played on its lanes" do
    page.click_button("Roles and lanes")
    page.click_button("New mix of roles")
    page.assert_selector("section[aria-label='Mix Mix']")
    tick("organ in Mix")
    page.assert_selector("[aria-label='Level of organ in Mix, dB']")
    tick("tide in Mix")
    page.find("[aria-label='Level of tide in Mix, dB']").set("-60\n")
    tick("click in Mix")
    page.assert_selector("[aria-label='Level of click in Mix, dB']")
    page.find("[aria-label='Level of organ in Mix, dB']").set("-6\n")
    on_lanes("Mix Mix on lanes", 30)
    page.assert_text("Heard at Main PA")
    expect(table["mixes"].first).to include("members" => {"organ" => -6.0, "tide" => -60.0, "click" => 0.0}, "lanes" => ["rec/lane-out/30"])
    page.click_button("Close")
    page.within("[data-rule='click-reach']", text: "Click reaches Main PA") { page.click_button("Mend: take click out of Mix") }
    page.assert_no_selector("[data-rule='click-reach']", text: "Click reaches Main PA")
    expect(table["mixes"].first["members"]).to eq("organ" => -6.0, "tide" => -60.0)
    # What the deck plays goes there as well: lane 30 sounds though its role has no stem any more.
    page.click_button("Play Low tide waltz")
    @installation.wait("lane 30 with 6 dB less than lane 29") do
      levels = @installation.deck(do: "status").dig("playing", "peak_dbfs").to_a.values_at(28, 29)
      levels.all? { |level| level && level > -60 } && (levels[0] - levels[1] - 6.0).abs < 0.3
    end
    api("post", "/api/playing/stop", {})
  end

  it "has one song otherwise, and says so in the table" do
    page.click_button("Roles and lanes")
    page.click_button("In one song: click")
    page.find("[aria-label='Level of click in Low tide waltz, dB']").set("-9\n")
    page.assert_text("Low tide waltz: −9 dB")
    page.click_button("As in the rest: click in Low tide waltz")
    page.assert_no_text("Low tide waltz: −9 dB")
    page.find("[aria-label='Level of click, dB']").set("-2\n")
    page.assert_text("usually 0 dB")
    page.click_button("Keep as usual: click")
    page.assert_no_text("usually 0 dB")
    expect(api("get", "/api/library/roles").last.find { |role| role["name"] == "click" }).to include("gain_db" => -2.0, "usual" => [31])
  end

  it "needs no more than two lanes, where there are no more" do
    page.click_button("Roles and lanes")
    {"Click on" => /31\b/, "Music on" => /32\b/}.each do |label, lane|
      page.find("section[aria-label='Two lanes only'] .MuiInputLabel-root", text: label).find(:xpath, "..").find("[role=combobox]").click
      page.find("li[role=option]", text: lane).click
    end
    page.click_button("Use these two alone")
    page.assert_selector("section[aria-label='Mix music']")
    expect(table["roles"].to_h { |role| role.values_at("name", "lanes") }).to eq("organ" => [], "tide" => [], "click" => ["rec/lane-out/31"])
    expect(table["mixes"].find { |mix| mix["name"] == "music" }).to include("members" => {"organ" => 0.0, "tide" => 0.0}, "lanes" => ["rec/lane-out/32"])
  end
end
