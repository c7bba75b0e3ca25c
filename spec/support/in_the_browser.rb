# frozen_string_literal: true

require "capybara/rspec"
require "osc-ruby"
require "support/accessibility"
require "support/browser"
require "support/installation"

# One installation for a whole group, with the real interface in a real browser before it.
RSpec.shared_context "in the browser" do
  before(:all) do
    # Long, since a machine may do much else; somebody who mends a spec may have less of it.
    Capybara.default_max_wait_time = Integer(ENV.fetch("LOOMSHUTTLE_PATIENCE_S", "150"))
    # What is waited for is not asked for a hundred times a second: asking takes the browser's time.
    Capybara.default_retry_interval = 0.05
    Capybara.enable_aria_label = true
    @folder = Dir.mktmpdir("loomshuttle")
    @installation = Installation.new(@folder).start("standin", "engine", "server", "worker")
    @page = Capybara::Session.new(:loom)
    Browser.exact_size(@page)
  end

  after(:all) do
    @page&.quit
    @installation.stop
    FileUtils.rm_rf(@folder)
  end

  attr_reader :page

  # A browser of its own beside the page, gone with the example: what an example keeps of it in a variable no other one sees.
  def another_browser(driver = :loom) = Capybara::Session.new(driver).tap { |session| (@others ||= []) << session }

  after { @others&.each(&:quit) }

  # Goes to a step of the show that is performed, as a link does where the application is open; loading all of it anew
  # takes a browser longer than most examples.
  def visit(page, step = "rig", anew: false)
    # An address has no slash behind it.
    path = ["/shows", @installation.show_id, *step.split("/")].join("/")
    if anew || !page.current_url.start_with?("#{@installation.address}/")
      page.visit("#{@installation.address}#{path}")
    else
      page.execute_script("history.pushState(null, '', arguments[0]); dispatchEvent(new PopStateEvent('popstate'))", path)
      page.assert_selector("nav a[href^='/shows/#{@installation.show_id}/'], nav a[href^='/shows/#{@installation.show_id}-']")
    end
    page.assert_text("engine ✓")
  end

  def go(step) = page.within("nav") { page.click_link(step) }

  # In one theme and as it is then; the other examples go on in the night theme.
  def expect_accessible(theme)
    page.click_button("Linen theme") if theme == "linen"
    expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa)
  ensure
    page.click_button("Night theme") if theme == "linen"
  end
end
