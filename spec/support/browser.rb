# frozen_string_literal: true

require "capybara"
require "selenium-webdriver"
require "tmpdir"

# A pointer is where it is moved to at once; by itself WebDriver takes a quarter of a second on the way each time.
module PointerAtOnce
  def initialize(bridge, duration: 0, **more) = super
end
Selenium::WebDriver::ActionBuilder.prepend(PointerAtOnce)

# What is seen, asked of the browser itself. WebDriver's own scripts walk every element above and below it, style by
# style: they took a third of all that the pages' processes did.
module AskedOfTheBrowser
  SEEN = <<~JS
    function (one) {
      if (!one.checkVisibility({opacityProperty: true, visibilityProperty: true})) return false;
      const box = one.getBoundingClientRect();
      return box.width > 0 || box.height > 0 || [...one.querySelectorAll("*")].some((part) => part.getClientRects().length > 0);
    }
  JS

  # Of many elements at once.
  module ForMany
    private

    def is_displayed_atom = SEEN
  end

  # Of one. What has no rendered text (a part of a picture) has its text.
  module ForOne
    def visible? = driver.evaluate_script("(#{SEEN})(arguments[0])", self)

    def visible_text
      driver.evaluate_script("arguments[0].innerText ?? arguments[0].textContent", self).to_s.gsub(/[\u200b\u200e\u200f]/, "").strip
    end
  end
  Capybara::Selenium::Find.prepend(ForMany)
  Capybara::Selenium::ChromeNode.prepend(ForOne)
end

# Debian's Chromium, headless, that looks up nothing outside this machine.
module Browser
  FLAGS = ["--headless=new",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-dev-shm-usage",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--disable-extensions",
    "--force-device-scale-factor=1",
    "--hide-scrollbars",
    "--window-size=1280,800",
    "--host-resolver-rules=MAP * ~NOTFOUND , EXCLUDE 127.0.0.1 , EXCLUDE 127.0.0.2 , EXCLUDE localhost"].freeze

  module_function

  # @param flags [Array<String>] beside FLAGS
  def driver(app, *flags)
    profile = Dir.mktmpdir("loomshuttle-chromium")
    at_exit { FileUtils.rm_rf(profile) }
    options = Selenium::WebDriver::Chrome::Options.new(binary: "/usr/bin/chromium", args: [*FLAGS, *flags, "--user-data-dir=#{profile}"])
    options.logging_prefs = {browser: "ALL"}
    # On a machine that does much else at the time the browser may take minutes over a page.
    patient = Selenium::WebDriver::Remote::Http::Default.new(read_timeout: 240)
    service = Selenium::WebDriver::Service.chrome(path: "/usr/bin/chromedriver")
    Capybara::Selenium::Driver.new(app, browser: :chrome, options: options, http_client: patient, service: service)
  end

  # Headless windows have a frame of their own size: pictures are set to 1280x800 exactly.
  def exact_size(session, width: 1280, height: 800)
    session.driver.browser.execute_cdp("Emulation.setDeviceMetricsOverride",
      width: width,
      height: height,
      deviceScaleFactor: 1,
      mobile: false)
    # Colours that are still on their way from one theme to the other have no contrast of
    # their own; the application has no motion where the system asks for none.
    session.driver.browser.execute_cdp("Emulation.setEmulatedMedia", features: [{name: "prefers-reduced-motion", value: "reduce"}])
  end
end
Capybara.register_driver(:loom) { |app| Browser.driver(app) }
# A device of the venue's network whose owner has said that he trusts the page.
Capybara.register_driver(:device) { |app| Browser.driver(app, "--ignore-certificate-errors") }
