# frozen_string_literal: true

require "core_helper"
require "open3"

RSpec.describe Loomshuttle::Exchange::InputList do
  def read(text, **options) = described_class.read(show, text.b, **options)

  # RFC 4180: CRLF, quotes doubled, commas and line ends inside quotes.
  it "writes what it reads back without a change" do
    odd = show(edit("rows", rows: {"list/row/1" => {name: "Hurdy, \"gurdy\"", notes: "left; far"}}))
    text = described_class.write(odd)
    expect(text.lines.first).to eq("number,name,short,kind,mic,stand,phantom,group,colour,stitch,pair,socket,safe,notes\r\n")
    expect(text).to include("\"Hurdy, \"\"gurdy\"\"\"")
    plan = described_class.read(odd, text)
    expect([plan.faults, plan.changes, plan.edit.apply(odd)]).to eq([[], [], odd])
  end

  it "is read the same by another reader of CSV" do
    python = Open3.capture2("python3", "-c", "import csv,sys; print([r[1] for r in csv.reader(sys.stdin)][1:4])", stdin_data: described_class.write(show)).first
    expect(python.strip).to eq("['Hurdy-gurdy', 'Cimbalom L', 'Cimbalom R']")
  end

  it "takes semicolons, tabs, a byte-order mark and Latin-1, and says so" do
    expect(read("\xEF\xBB\xBFNr;Instrument\r\n1;Fl\u00f6te\r\n")).to have_attributes(separator: ";", encoding: "UTF-8", faults: [], changes: ["Row 1 (Hurdy-gurdy): name is Fl\u00f6te, before: Hurdy-gurdy", "Track 1 (Hurdy-gurdy): name is Fl\u00f6te, before: Hurdy-gurdy"])
    expect(read("#\tSource\tWhere\n1\tFl\xF6te\tlocal socket 5\n")).to have_attributes(separator: "\t", encoding: "Latin-1", columns: [{heading: "#", column: "number"}, {heading: "Source", column: "name"}, {heading: "Where", column: "socket"}])
  end

  it "takes the quotes and dashes that spreadsheets put into Latin-1, and UTF-16 with its mark" do
    expect(read("number,name\n1,Drummer\x92s \x96 left\x81\n")).to have_attributes(encoding: "Latin-1", faults: [{line: 2, column: "name", message: /control characters/}])
    expect(read("number,name\n1,Drummer\x92s \x96 left\n").changes).to eq(%w[Row Track].map { |what| "#{what} 1 (Hurdy-gurdy): name is Drummer\u2019s \u2013 left, before: Hurdy-gurdy" })
    %w[UTF-16LE UTF-16BE].each do |encoding|
      plan = read("\uFEFFnumber\tname\r\n1\tFl\u00f6te\r\n".encode(encoding))
      expect(plan).to have_attributes(encoding: encoding, separator: "\t", changes: ["Row 1 (Hurdy-gurdy): name is Fl\u00f6te, before: Hurdy-gurdy", "Track 1 (Hurdy-gurdy): name is Fl\u00f6te, before: Hurdy-gurdy"])
    end
  end

  # heading and cell => what the row has then
  {"phantom" => [%w[x yes], %w[off no], %w[NEVER never], %w[1 yes]], "safe" => [["y", true], ["", false], ["No", false]],
   "kind" => [["di", "DI"], ["MICROPHONE", "microphone"]], "colour" => [["Woad", "woad"]], "stitch" => [["DASH", "dash"]]}.each do |column, cells|
    cells.each do |text, kept|
      it "reads #{column} \"#{text}\" as #{kept}" do
        expect(read("no,source,#{column}\n1,A,#{text}\n").edit.apply(show).rows["list/row/1"][column]).to eq(kept)
      end
    end
  end

  it "keeps what a row has where a needed cell is empty, and passes over empty lines" do
    after = read("no,source,colour,kind\n1,,,\n,,,\n\n2,X,,\n").edit.apply(show)
    expect(after.rows["list/row/1"]).to eq(show.rows["list/row/1"])
    expect(after.rows["list/row/2"]).to eq(show.rows["list/row/2"].with(name: "X"))
  end

  it "says which line took a socket before, which pair is none, and what the list itself would refuse" do
    faults = read("no,source,socket,pair\n1,A,Box A 3,\n2,B,box a socket 3,\n3,C,,left\n").faults
    expect(faults.map { |fault| fault[:message] }).to match([/"left" is no number of a row/, "Box A socket 3 is taken by line 2 already"])
    expect(read("no,source,pair\n1,A,1\n").faults).to match([{line: nil, column: "pair", message: /cannot be paired/}])
  end

  it "refuses more lines than any stage has" do
    expect { read("no,source\n" + "1,A\n" * 4001) }.to raise_error(Loomshuttle::BadInput, /at most 4000 lines/)
  end

  it "says what each column was taken for, and leaves unknown ones out" do
    expect(read("Channel,Input Name,48V,Lamp\n1,Hurdy,x,red\n").columns.map { |one| one[:column] }).to eq(["number", "name", "phantom", nil])
  end

  it "lists every fault with its line, and changes nothing then" do
    plan = read("number,name,phantom,socket,colour\n1,A,perhaps,,\n1,B,,,\nx,C,,,\n3,,no,Box Z 4,mauve\n70,D,,Box A 5,\n71,E,,box a 5,\n")
    expect(plan.edit).to be_nil
    expect(plan.faults.map { |fault| [fault[:line], fault[:column]] }).to eq([[2, "phantom"], [3, "number"], [4, "number"], [5, "colour"], [5, "socket"], [7, "socket"]])
    expect(plan.faults.first[:message]).to eq("\"perhaps\" is not usable; one of yes, no, never")
  end

  it "counts the lines of the file, not its records: a quoted cell may hold line ends" do
    plan = read("number,name,notes,phantom\n1,A,\"left\nof\nthe drums\",yes\n\n2,B,,perhaps\n")
    expect(plan.faults.map { |fault| [fault[:line], fault[:column]] }).to eq([[6, "phantom"]])
  end

  it "adds rows without a number at the end, plugs, unplugs and pairs" do
    after = read("number,name,pair,socket\n,Saw,,local socket 20\n1,Hurdy-gurdy,,\n5,Kick,6,Box A 5\n").edit.apply(show)
    saw = after.rows.values.last
    expect([saw.number, saw.name]).to eq([13, "Saw"])
    expect(after.patch.plugs.values_at(saw.id, "list/row/1")).to eq(["desk/mic/20", nil])
    expect(after.rows["list/row/6"].pair).to eq("list/row/5")
  end

  it "writes nothing that a spreadsheet would run, and reads it back as it was" do
    names = ["=1+1", "+Kick", "-Snare", "@Tuba", "'=quoted", "''-twice", "-3", "'plain"]
    odd = names.each_with_index.reduce(show) { |now, (name, at)| edit("rename", id: "list/row/#{at + 1}", name: name).apply(now) }
    written = described_class.write(odd)
    expect(CSV.parse(written).flatten.compact.grep(/\A[=+@]|\A-(?!\d+\z)/)).to eq([])
    expect(described_class.read(show, written).edit.apply(show).rows.values.first(8).map(&:name)).to eq(names)
  end

  it "goes round with two boxes of one name, and says where a name is said of two sockets" do
    twins = show(edit("device", id: "box-b", profile: "stage-box-16x8", name: "Box A", clock: "aes50"), edit("cable", a: "box-b/aes50", b: "box-a/chain"))
    plan = described_class.read(twins, described_class.write(twins))
    expect([plan.faults, plan.changes]).to eq([[], []])
    expect(described_class.read(twins, "number,name,socket\n1,Hurdy-gurdy,Box A socket 3\n").faults.map { |fault| fault[:message] }).to eq(["\"Box A socket 3\" is said of 2 sockets: box-a/mic/3, box-b/mic/3; write which"])
  end

  it "keeps rows that the file lacks, unless it is to replace the list" do
    expect(read("number,name\n1,Only\n").edit.apply(show).rows.size).to eq(12)
    expect(read("number,name\n1,Only\n", replace: true).edit.apply(show).rows.size).to eq(1)
  end

  {"no headings that it knows" => ["a,b\n1,2\n", /a first line with headings, one of them: name/], "a quote that never ends" => ["number,name\n1,\"Hurdy\n", /csv line 2.*Unclosed quoted field/],
   "nothing at all" => ["", /headings/]}.each do |fault, (text, words)|
    it("refuses #{fault}") { expect { read(text) }.to raise_error(Loomshuttle::BadInput, words) }
  end
end
