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

  # The page in one size; at the desk there is a mouse, and nothing has to be as large as a finger.
  #
  # @return [Fingers, nil]
  def hold(size, session = page)
    return Fingers.new(session, width: size[0], height: size[1]) if size

    session.driver.browser.execute_cdp("Emulation.setTouchEmulationEnabled", enabled: false)
    Browser.exact_size(session)
    nil
  end

  def settled(session = page)
    session.assert_no_selector("[role=progressbar]")
    session.evaluate_async_script("requestAnimationFrame(() => requestAnimationFrame(arguments[0]))")
  end

  def look_at(step, session = page)
    session.visit("#{@installation.address}/#{"shows/#{@installation.show_id}/#{step}" unless step == "shows"}")
    session.assert_selector("html[data-scheme='dark']", visible: :all)
    session.assert_selector("main h2", minimum: 1)
    session.assert_text("not capturing")
    settled(session)
  end

  # Puts another theme on without another visit, as a second tab of the same browser does.
  def wear(theme)
    page.execute_script("localStorage.setItem('mui-mode', '#{theme}'); dispatchEvent(new StorageEvent('storage', {key: 'mui-mode', newValue: '#{theme}', storageArea: localStorage}))")
    page.assert_selector("html[data-scheme='#{theme}']", visible: :all)
  end

  # The strip says on every page where the desk listens, and the worst of what is found.
  def expect_strip
    page.assert_selector("header [aria-label='The desk listens to the stage']")
    page.assert_selector("header button", text: "2 stops")
  end

  def expect_accessible_in_both_themes(*rules)
    expect(page).to be_axe_clean.according_to(*rules)
    # The other theme has the same page in other colours.
    wear("light")
    expect(page).to be_axe_clean.checking_only(:"color-contrast")
  ensure
    wear("dark")
  end

  ["shows", *steps].each do |step|
    it "passes the accessibility check, with nothing beyond its edge or too small, in every size: #{step}" do
      hold(sizes.values.first)
      look_at(step)
      aggregate_failures do
        {**sizes, "desk" => nil}.each do |name, size|
          fingers = hold(size)
          settled
          expect_strip unless step == "shows"
          expect([name, fingers&.beyond.to_a, fingers&.small.to_a]).to eq([name, [], []])
          # At the desk its guide stands in the rail.
          expect(page.find_link("Guide")[:href]).to eq("#{@installation.address}/guide##{step}") if name == "desk"
          expect_accessible_in_both_themes(*axe) if ["phone", "tablet", "desk"].include?(name)
        end
      end
    end
  end

  describe "a tablet" do
    before do
      @fingers = hold(sizes["tablet"])
      look_at("patch")
      page.assert_selector("[data-strand='box-a/mic/1>desk/channel/1']", visible: :all)
    end

    def plugged(row) = @installation.api("get", @installation.show).last["rows"][row - 1]["socket"]
    def scrolled = page.evaluate_script("document.querySelector('svg[role=application]').parentElement.scrollTop")

    it "lays a thread by drag from a knot" do
      @fingers.drag("[data-knot='list/row/5'] [data-grip]", "[data-knot='box-a/mic/13'] [data-grip]")
      @installation.wait("the plug") { plugged(5) == "box-a/mic/13" }
      page.assert_no_selector("[data-testid=hold]")
      page.click_button("Undo")
      @installation.wait("the undo") { plugged(5) == "box-a/mic/5" }
    end

    it "scrolls by a swipe over labels, and picks up nothing" do
      expect(scrolled).to eq(0)
      @fingers.swipe("[data-knot='list/row/9'] text", y: -300)
      @installation.wait("the scroll") { scrolled > 100 }
      page.assert_no_selector("[data-testid=hold]")
      expect(plugged(9)).to eq("box-a/mic/9")
    end

    it "lays a thread by a tap on each end, and lets go by a button" do
      @fingers.tap("[data-knot='list/row/5'] text")
      page.assert_selector("[data-testid=hold]", text: "Holding Kick")
      page.click_button("Let go")
      page.assert_no_selector("[data-testid=hold]")
      @fingers.tap("[data-knot='list/row/5'] text")
      page.assert_selector("[data-testid=hold]", text: "Holding Kick")
      @fingers.tap("[data-knot='box-a/mic/14'] text")
      @installation.wait("the plug") { plugged(5) == "box-a/mic/14" }
      page.click_button("Undo")
      @installation.wait("the undo") { plugged(5) == "box-a/mic/5" }
    end
  end

  describe "a phone" do
    before { hold(sizes["phone"]) }

    it "traces a source through the list, and settles what is found on its way" do
      look_at("patch")
      page.click_button("9 Accordion")
      page.assert_selector("[data-testid=sentence]", text: "Accordion")
      page.within("[data-place='list/row/9']") { page.assert_selector("[data-rule='silent-lane']") }
      page.fill_in("Find", with: "tuba")
      page.assert_selector("[data-place]", count: 1)
      page.fill_in("Find", with: "kettle")
      page.assert_text("Nothing here is called \"kettle\".")
    end

    it "shows findings as a sheet over the page, which goes when one of them is shown" do
      look_at("capture")
      page.click_button("2 stops")
      page.within("[role=dialog]") { page.find("[data-rule='silent-lane']").click_button("Show me") }
      page.assert_no_selector("[role=dialog]")
      page.assert_selector("main h2", text: "Patch")
      page.assert_selector("button[aria-expanded=true]")
    end

    it "leads to the other steps by one more tap" do
      look_at("capture")
      page.click_button("Others")
      page.click_link("Outputs")
      page.assert_selector("main h2", text: "Outputs")
      page.assert_no_selector("[role=dialog]")
    end

    it "says on Rig where each cable leads, without an id" do
      look_at("rig")
      page.find("[data-gear='box-a'] button").click
      page.assert_text("AES50: to Quay desk, AES50 A, 12 + 2 of 48 lanes, 40 m")
      page.assert_text("Booth wedge is plugged in here")
    end
  end

  describe "kept awake and installed" do
    def session = @session ||= another_browser

    before do
      hold(sizes["phone"], session)
      session.driver.browser.execute_cdp("Page.addScriptToEvaluateOnNewDocument",
        source: "window.asked = []; Object.defineProperty(navigator, 'wakeLock', {value: {request: async (kind) => { window.asked.push(kind); return {release: async () => window.asked.push('released')}; }}});")
    end

    it "keeps the screen awake on the pages of the stage, and on no other" do
      look_at("line-check", session)
      @installation.wait("the lock") { session.evaluate_script("window.asked") == ["screen"] }
      session.click_link("Patch")
      @installation.wait("its end") { session.evaluate_script("window.asked") == %w[screen released] }
    end

    it "has what a device needs to keep it beside its programs" do
      look_at("shows", session)
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
