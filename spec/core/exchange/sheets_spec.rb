# frozen_string_literal: true

require "core_helper"
require_relative "../../../boot/paper"
require "open3"

RSpec.describe Loomshuttle::Exchange::Sheets do
  let(:sheets) { described_class.of(show) }
  let(:by_title) { sheets.to_h { |sheet| [sheet[:title], sheet] } }

  it "lists inputs by row and by box, outputs by box, tracks, and labels" do
    expect(sheets.map { |sheet|
      described_class.file_name(sheet)
    }).to eq(%w[inputs.csv boxes-box-a.csv mixes-main-l-main-1.csv mixes-main-r-main-2.csv mixes-booth-wedge-bus-1.csv mixes-drummer-bus-2.csv
      mixes-stream-l-bus-5.csv mixes-stream-r-bus-6.csv outputs-desk.csv outputs-box-a.csv tracks.csv setlist.csv labels-box-a.csv])
    expect(by_title["Input list"][:rows][8]).to eq([9, "Accordion", "clip condenser pair, mixed", "", "yes", "Box A socket 9", "9", 9, ""])
    expect(by_title["Box A: inputs"][:rows][10]).to eq([11, "Foley table", "ribbon", "NEVER", "11", 11])
    expect(by_title["Quay desk: outputs"][:rows][2]).to eq([3, "Stream L (bus 5)", "post-fader", "", "Livestream"])
    expect(by_title["Box A: outputs"][:rows][2]).to eq([3, "", "", "", ""])
    expect(by_title["Mix: Drummer (bus 2)"]).to include(columns: ["From", "Source", "Level dB", "Tap"], rows: include(["channel 31", "role click", 0.0, "pre-fader"]))
    expect(by_title["Card and tracks"][:rows][8]).to eq([9, "Accordion", "yes", 9, "Accordion", 9, "9"])
  end

  it "says what really arrives on a track, not what was meant" do
    expect(described_class.of(planted, ["tracks"]).first[:rows][8][4]).to eq("local socket 9")
  end

  it "has a checksum that changes with the patch and names the scene that it is" do
    kept = show(edit("scene", name: "Afternoon"))
    expect(described_class.heading(kept)[:scene]).to eq("Afternoon")
    moved = edit("plug", row: "list/row/1", socket: "desk/mic/1").apply(kept)
    expect(described_class.heading(moved)).to include(scene: "as patched")
    expect(described_class.heading(moved)[:checksum]).not_to eq(described_class.heading(kept)[:checksum])
  end

  # Cross-read with poppler's pdftotext and pdfinfo.
  def page_sizes(pdf) = Open3.capture2("pdfinfo", "-f", "1", "-l", "2", "-", stdin_data: pdf, binmode: true).first.scan(/size:\s+([\d.]+) x ([\d.]+)/).map { |size| size.map { |pt| pt.to_f.round } }
  def text(pdf, *pages) = Open3.capture2("pdftotext", "-layout", *pages, "-", "-", stdin_data: pdf, binmode: true).first.force_encoding("UTF-8")

  it "prints A4, every page with show, date, checksum and page number" do
    pdf = Loomshuttle::Paper::Pdf.new(show, date: "2026-11-24", size: "A4").render
    # The input list lies across the page, with every name on one line; the others stand upright.
    expect(page_sizes(pdf)).to eq([[842, 595], [595, 842]])
    expect(text(pdf, "-l", "1")).to match(/^ *11 +Foley table +ribbon +short boom +NEVER +Box A socket 11 +11 +11 *$/)
    pages = text(pdf).split("\f").reject { |page| page.strip.empty? }
    expect(pages.size).to be > 3
    pages.each_with_index { |page, i| expect(page).to include("Lanterns over Saltmarsh", "2026-11-24", "patch #{show.patch.sheet_checksum}", "page #{i + 1} of #{pages.size}") }
    expect(text(pdf)).to match(/9\s+Accordion\s+clip condenser/)
  end

  it "prints Letter, of a small show" do
    pdf = Loomshuttle::Paper::Pdf.new(rack, date: "2026-11-24", size: "Letter").render
    expect(page_sizes(pdf)).to eq([[792, 612], [612, 792]])
    expect(text(pdf)).to match(/2\s+Lute/)
  end

  it "prints an empty show, long names and other alphabets, and refuses another size" do
    bare = show.with(rows: {}.freeze, tracks: {}.freeze, patch: Loomshuttle::Patch::Scene.new)
    expect(Loomshuttle::Paper::Pdf.new(bare, date: "").render).to start_with("%PDF")
    odd = edit("rows", rows: {"list/row/1" => {name: "Ζουρνάς #{"x" * 280}"}}).apply(rack)
    expect(Loomshuttle::Paper::Pdf.new(odd, date: "").render).to start_with("%PDF")
    expect { Loomshuttle::Paper::Pdf.new(show, date: "", size: "A3") }.to raise_error(Loomshuttle::BadInput, /size: "A3" is not usable; A4, Letter/)
  end
end

RSpec.describe Loomshuttle::Exchange::Template do
  it "keeps rig and patch and drops the show's names" do
    template = described_class.of(show(edit("scene", name: "X")))
    expect([template.rig, template.patch.slots]).to eq([show.rig, show.patch.slots])
    written = Loomshuttle::Exchange::ShowFile.write(described_class.start(template, name: "Next show"))
    expect(written).to include("Next show", "Input 9")
    %w[Accordion Saltmarsh Quayside waltz Booth\ wedge\ mix condenser].each { |word| expect(written).not_to include(word) }
    expect(Loomshuttle::Demo.show(JSON.parse(written)).name).to eq("Next show")
  end
end

RSpec.describe "The set list's sheet" do
  it "tells when each song begins if all goes as planned, and what lies behind it" do
    waltz = show.library["low-tide-waltz"]
    library = {"low-tide-waltz" => waltz, "again" => waltz.with(id: "again", title: "Again", count_in_bars: 0)}
    listed = {"low-tide-waltz" => {after: "wait", wait_s: 8, talk_s: 3_700, key: "A minor"}, "again" => {note: "slowly"}}
    set = show.with(library: library, set_list: listed.to_h { |id, more| [id, Loomshuttle::Show::Listed.new(song: id, **more)] })
    sheet = Loomshuttle::Exchange::Sheets.of(set, %w[setlist]).first
    # 19.2 s of audio and one bar of 100 bpm before it; 22 + 8 + 3700 s later the next.
    first = [1, "Low tide waltz", "A minor", "0:00", "0:22", "", "talk 1:01:40, goes on after 8 s", ""]
    expect(sheet[:rows]).to eq([first, [2, "Again", "", "1:02:10", "0:19", "", "", "slowly"]])
    expect(Loomshuttle::Exchange::Sheets.of(show.with(set_list: {}), %w[setlist])).to eq([])
  end
end
