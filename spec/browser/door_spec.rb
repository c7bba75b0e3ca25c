# frozen_string_literal: true

require "core_helper"
require "open3"
require "support/fingers"
require "support/in_the_browser"
require_relative "../../boot/front_door"

# A phone that is let in by a code, through the real nginx on another address of the loopback range.
RSpec.describe "Letting others in" do
  include_context "in the browser"

  before(:all) do
    File.chmod(0o711, @folder)
    @installation.start("door")
    @installation.api("put", "/api/door/way", {addresses: ["127.0.0.2"]})
    @installation.wait("the door") { TCPSocket.new("127.0.0.2", @installation.services.ports["door"]).close || true }
  end

  def phone = @phone ||= another_browser(:device).tap { |session| Fingers.new(session, width: 390, height: 844) }
  def url = "https://127.0.0.2:#{@installation.services.ports["door"]}/"

  def read_qr(selector)
    picture = File.join(@folder, "qr.png")
    page.find(selector).native.save_screenshot(picture)
    Open3.capture2("zbarimg", "-q", "--raw", picture, err: File::NULL).first.strip
  end

  def enter(code, name)
    phone.fill_in("Code", with: code)
    phone.fill_in("What this device is called", with: name)
    phone.click_button("Go in")
  end

  it "shows address, QR code and code; a phone comes in with it, may mark and not stop, and is taken out while it looks" do
    page.visit("#{@installation.address}/")
    page.click_button("Let others in")
    page.assert_text(url)
    # The picture is fetched and the dialog fades in: read until it can be.
    @installation.wait("the QR code") { read_qr("img[alt='The page, as a QR code']") == url }
    page.click_button("Show a code")
    code = page.find("[role=status] .figures", text: /\A\d{6}\z/).text
    phone.visit("#{url}shows/1/capture")
    phone.assert_text("This device is not let in.")
    enter(format("%06d", (code.to_i + 1) % 1_000_000), "Phone")
    phone.assert_selector("[role=alert]", text: "it holds for five minutes and one device")
    enter(code, "Phone of the stage")
    phone.assert_selector("main h2", text: "Capture")
    page.assert_selector("[data-device='Phone of the stage']", text: "now")
    page.assert_no_text(code)
    # What it is refused is said in words.
    expect(phone.evaluate_async_script("fetch('/api/capture/stop', {method: 'POST', headers: {'content-type': 'application/json'}, body: '{}'}).then(a => a.json()).then(a => arguments[0](a.error.message))"))
      .to eq("This device may check lines and mark; this is for one that may patch, record, play and swing.")
    # While a take runs it marks, and has no button for what it may not.
    @installation.api("post", "#{@installation.show}/capture/start", {})
    phone.assert_selector("[data-testid=capture-state]", text: "take")
    phone.click_button("Mark")
    @installation.wait("the mark") { @installation.engine(do: "status").dig("recording", "marks") == 1 }
    ["Hold to stop", "Start the take", "Arm all", "Disarm all", "Many at once", "Mend", "Meant so"].each { |name| expect(phone).to have_no_button(name) }
    phone.click_button("2 stops")
    phone.assert_selector("[role=dialog] [data-rule='silent-lane']")
    phone.assert_no_selector("[role=dialog] button", text: "Mend")
    phone.click_button("Close findings")
    page.within("[data-device='Phone of the stage']") { page.click_button("Take out") }
    phone.assert_text("This device is not let in.")
    page.assert_text("No device has been let in yet.")
  ensure
    @installation.api("post", "/api/capture/stop", {})
  end

  it "says why nobody gets in though the door is open, for as long as that is so" do
    trouble = Loomshuttle::FrontDoor.trouble(@folder)
    page.visit("#{@installation.address}/")
    page.click_button("Let others in")
    page.assert_text(url)
    page.assert_no_text("Nobody gets in yet.")
    File.write(trouble, "The front door cannot stay open: nginx ends at once.")
    said = "Nobody gets in yet. The front door cannot stay open: nginx ends at once."
    page.assert_selector("[role=dialog] [role=alert]", text: said)
    File.delete(trouble)
    page.assert_no_text("Nobody gets in yet.")
  ensure
    page.find("[role=dialog]").click_button("Close")
  end

  %w[night linen].each do |theme|
    it "passes the accessibility check, #{theme}" do
      page.visit("#{@installation.address}/")
      page.click_button("Linen theme") if theme == "linen"
      page.click_button("Let others in")
      page.assert_text(url)
      expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa)
    ensure
      page.find("[role=dialog]").click_button("Close")
      page.click_button("Night theme") if theme == "linen"
    end
  end
end
