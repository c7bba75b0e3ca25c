# frozen_string_literal: true

require "core_helper"
require "support/fingers"
require "support/in_the_browser"

# Three widths, two themes, fingers: what a phone on the stage and a tablet at the side show of the demo's show.
RSpec.describe "On every size of page" do
  include_context "in the browser"

  steps = %w[rig patch line-check capture soundcheck tracks outputs paper]
  # Every rule that axe has for WCAG 2.2 AA, and its best practice.
  axe = %i[wcag2a wcag2aa wcag21a wcag21aa wcag22aa best-practice]
  sizes = {"phone" => [390, 844], "small phone" => [360, 700], "tablet" => [834, 1112], "lying tablet" => [1024, 768]}

  def session = @session ||= another_browser

  def hand(width, height) = Fingers.new(session, width: width, height: height)

  def look_at(step, theme)
    session.visit("#{@installation.address}/#{"shows/#{@installation.show_id}/#{step}" unless step == "shows"}")
    session.assert_selector("main h2", minimum: 1)
    session.evaluate_script("localStorage.getItem('mui-mode')") == theme or begin
      session.execute_script("localStorage.setItem('mui-mode', '#{theme}')")
      session.refresh
      session.assert_selector("html[data-scheme='#{theme}']", visible: :all)
      session.assert_selector("main h2", minimum: 1)
    end
    session.assert_text("not capturing")
    session.assert_no_selector("[role=progressbar]")
  end

  # Puts another theme on without another visit, as a second tab of the same browser does.
  def wear(theme)
    session.execute_script("localStorage.setItem('mui-mode', '#{theme}'); dispatchEvent(new StorageEvent('storage', {key: 'mui-mode', newValue: '#{theme}', storageArea: localStorage}))")
    session.assert_selector("html[data-scheme='#{theme}']", visible: :all)
  end

  # The strip says on every page where the desk listens, and the worst of what is found.
  def expect_strip
    session.assert_selector("header [aria-label='The desk listens to the stage']")
    session.assert_selector("header button", text: "2 stops")
  end

  {"phone" => sizes["phone"], "tablet" => sizes["tablet"], "desk" => [1280, 800]}.each do |name, (width, height)|
    it "passes the accessibility check at every step, with nothing beyond its edge or too small: #{name}" do
      fingers = (name == "desk") ? Browser.exact_size(session).then { nil } : hand(width, height)
      aggregate_failures do
        ["shows", *steps].each do |step|
          look_at(step, "dark")
          expect_strip unless step == "shows"
          expect([step, fingers&.beyond.to_a, fingers&.small.to_a]).to eq([step, [], []])
          # At the desk its guide stands in the rail.
          expect(session.find_link("Guide")[:href]).to eq("#{@installation.address}/guide##{step}") if name == "desk"
          expect(session).to be_axe_clean.according_to(*axe)
          # The other theme has the same page in other colours.
          wear("light")
          expect(session).to be_axe_clean.checking_only(:"color-contrast")
          wear("dark")
        end
      end
    end
  end

  ["small phone", "lying tablet"].each do |name|
    it "has nothing beyond its edge, and everything as large as a finger: #{name}" do
      fingers = hand(*sizes[name])
      ["shows", *steps].each do |step|
        look_at(step, "dark")
        expect_strip unless step == "shows"
        expect([step, fingers.beyond, fingers.small]).to eq([step, [], []])
      end
    end
  end

  describe "a tablet" do
    before do
      @fingers = hand(*sizes["tablet"])
      look_at("patch", "dark")
      session.assert_selector("[data-strand='box-a/mic/1>desk/channel/1']", visible: :all)
    end

    def plugged(row) = @installation.api("get", @installation.show).last["rows"][row - 1]["socket"]
    def scrolled = session.evaluate_script("document.querySelector('svg[role=application]').parentElement.scrollTop")

    it "lays a thread by drag from a knot" do
      @fingers.drag("[data-knot='list/row/5'] [data-grip]", "[data-knot='box-a/mic/13'] [data-grip]")
      @installation.wait("the plug") { plugged(5) == "box-a/mic/13" }
      session.assert_no_selector("[data-testid=hold]")
      session.click_button("Undo")
      @installation.wait("the undo") { plugged(5) == "box-a/mic/5" }
    end

    it "scrolls by a swipe over labels, and picks up nothing" do
      expect(scrolled).to eq(0)
      @fingers.swipe("[data-knot='list/row/9'] text", y: -300)
      @installation.wait("the scroll") { scrolled > 100 }
      session.assert_no_selector("[data-testid=hold]")
      expect(plugged(9)).to eq("box-a/mic/9")
    end

    it "lays a thread by a tap on each end, and lets go by a button" do
      @fingers.tap("[data-knot='list/row/5'] text")
      session.assert_selector("[data-testid=hold]", text: "Holding Kick")
      session.click_button("Let go")
      session.assert_no_selector("[data-testid=hold]")
      @fingers.tap("[data-knot='list/row/5'] text")
      session.assert_selector("[data-testid=hold]", text: "Holding Kick")
      @fingers.tap("[data-knot='box-a/mic/14'] text")
      @installation.wait("the plug") { plugged(5) == "box-a/mic/14" }
      session.click_button("Undo")
      @installation.wait("the undo") { plugged(5) == "box-a/mic/5" }
    end
  end

  describe "a phone" do
    before { @fingers = hand(*sizes["phone"]) }

    it "traces a source through the list, and settles what is found on its way" do
      look_at("patch", "dark")
      session.click_button("9 Accordion")
      session.assert_selector("[data-testid=sentence]", text: "Accordion")
      session.within("[data-place='list/row/9']") { session.assert_selector("[data-rule='silent-lane']") }
      session.fill_in("Find", with: "tuba")
      session.assert_selector("[data-place]", count: 1)
      session.fill_in("Find", with: "kettle")
      session.assert_text("Nothing here is called \"kettle\".")
    end

    it "shows findings as a sheet over the page, which goes when one of them is shown" do
      look_at("capture", "dark")
      session.click_button("2 stops")
      session.within("[role=dialog]") { session.find("[data-rule='silent-lane']").click_button("Show me") }
      session.assert_no_selector("[role=dialog]")
      session.assert_selector("main h2", text: "Patch")
      session.assert_selector("button[aria-expanded=true]")
    end

    it "leads to the other steps by one more tap" do
      look_at("capture", "dark")
      session.click_button("Others")
      session.click_link("Outputs")
      session.assert_selector("main h2", text: "Outputs")
      session.assert_no_selector("[role=dialog]")
    end

    it "says on Rig where each cable leads, without an id" do
      look_at("rig", "dark")
      session.find("[data-gear='box-a'] button").click
      session.assert_text("AES50: to Quay desk, AES50 A, 12 + 2 of 48 lanes, 40 m")
      session.assert_text("Booth wedge is plugged in here")
    end
  end

  describe "kept awake and installed" do
    before do
      hand(390, 844)
      session.driver.browser.execute_cdp("Page.addScriptToEvaluateOnNewDocument",
        source: "window.asked = []; Object.defineProperty(navigator, 'wakeLock', {value: {request: async (kind) => { window.asked.push(kind); return {release: async () => window.asked.push('released')}; }}});")
    end

    it "keeps the screen awake on the pages of the stage, and on no other" do
      look_at("line-check", "dark")
      @installation.wait("the lock") { session.evaluate_script("window.asked") == ["screen"] }
      session.click_link("Patch")
      @installation.wait("its end") { session.evaluate_script("window.asked") == %w[screen released] }
    end

    it "has what a device needs to keep it beside its programs" do
      look_at("shows", "dark")
      address = session.evaluate_script("document.querySelector('link[rel=manifest]').href")
      manifest = JSON.parse(Net::HTTP.get(URI(address)))
      expect(manifest).to include("display" => "standalone", "start_url" => "/")
      icons = manifest["icons"].map do |icon|
        picture = Net::HTTP.get_response(URI.join(address, icon["src"]))
        [picture["content-type"], picture.body.byteslice(16, 8).unpack("N2").join("x") == icon["sizes"]]
      end
      expect(icons).to all(eq(["image/png", true]))
    end
  end

  it "has a guide with a place for every step, and its pictures" do
    guide = Net::HTTP.get(URI("#{@installation.address}/guide"))
    ["shows", *steps].each { |step| expect(guide).to include("id=\"#{step}\"") }
    pictures = guide.scan(%r{src="(/guide/[^"]+)"}).flatten
    expect(pictures.size).to be > 5
    expect(pictures.map { |path| Net::HTTP.get_response(URI("#{@installation.address}#{path}"))["content-type"] }).to all(eq("image/png"))
  end
end
