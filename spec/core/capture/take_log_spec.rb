# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Capture::TakeLog do
  plan = {"uid" => "take-uid-1", "number" => 4, "sample_rate_hz" => 48_000, "folder" => "lanterns/take-004", "show" => "lanterns",
          "tracks" => [{"key" => "rec/track/1", "name" => "Tuba", "file" => "01 Tuba", "lanes" => [1]},
            {"key" => "rec/track/2", "name" => "Kick", "file" => "02 Kick", "lanes" => [2]}]}
  lines = [
    {"what" => "begun", "plan" => plan, "start_frame" => 1000, "pressed_frame" => 1200, "time_reference_samples" => 5,
     "started_at" => "2026-11-27T20:00:00", "date" => "2026-11-27", "time" => "20:00:00", "utc_s" => 1_795_000_000.5, "mono_s" => 9.5, "clock_frame" => 1000, "boot" => "abcd1234"},
    {"what" => "stretch", "track" => "rec/track/1", "part" => 1, "file" => "01 Tuba.wav", "from_frame" => 1000, "time_reference_samples" => 5},
    {"what" => "stretch", "track" => "rec/track/2", "part" => 1, "file" => "02 Kick.wav", "from_frame" => 1000, "time_reference_samples" => 5},
    {"what" => "lost", "frame" => 1500, "frames" => 64, "why" => "the device lost them"},
    {"what" => "mark", "id" => "m1", "frame" => 1600, "label" => "verse"},
    {"what" => "broken", "frame" => 2000, "why" => "the desk closed the line", "at" => "2026-11-27T20:00:01"},
    {"what" => "end", "track" => "rec/track/1", "part" => 1, "to_frame" => 2000, "peaks_dbfs" => [-6.0], "clips" => [0], "silence_s" => [0.1], "crc32" => "0badcafe"},
    {"what" => "back", "frame" => 3000, "gap_frames" => 1000},
    {"what" => "named", "track" => "rec/track/1", "part" => 1, "file" => "01 Bass.wav"},
    {"what" => "closed", "frame" => 4000, "reason" => "stopped by hand"}
  ].freeze

  def log(lines) = described_class.read(lines.map { |line| JSON.generate(line) + "\n" }.join)

  def said(log)
    [log.state, log.frames, log.lost_frames, log.stretches.map(&:to_h), log.marks, log.breaks, log.names, log.armed, log.files_of, log.last_utc_s,
      log.frame_now(utc_s: 1e9, mono_s: 10, boot: "abcd1234")]
  end

  it "folds its lines into what the take is" do
    whole = log(lines)
    expect(whole).to have_attributes(state: "closed", frames: 1000, lost_frames: 64, odd_lines: 0, pressed_frame: 1200, armed: %w[rec/track/1 rec/track/2])
    expect(whole.files_of).to eq("rec/track/1" => "01 Bass", "rec/track/2" => "02 Kick")
    expect(whole.breaks).to match([include(frame: 2000, gap_frames: 1000)])
  end

  # What it says goes to paths, to sums and to the database, and it may be anybody's.
  it "takes a line whole or, where anything in it is of another kind, counts it as odd and leaves it" do
    bad = {
      1 => {"track" => [5, nil], "part" => ["1", 1.5], "file" => [7, {}, "", ".", "..", "../01 Tuba.wav", "/etc/passwd", "a\0b", "x" * 300],
            "from_frame" => ["1000", 10**20, nil], "time_reference_samples" => ["5"]},
      3 => {"frame" => ["x", 2**53], "frames" => [nil, 1.5]}, 4 => {"frame" => [[], -1e300]}, 5 => {"frame" => [nil]},
      6 => {"to_frame" => ["2000", 10**20], "peaks_dbfs" => [{}, ["loud"]], "clips" => [5], "silence_s" => ["none"], "crc32" => [5]},
      7 => {"gap_frames" => ["long"]}, 8 => {"file" => ["../../x.wav", nil]}
    }
    bad.each do |at, fields|
      left_out = said(log(lines.each_with_index.reject { |_, index| index == at }.map(&:first)))
      fields.flat_map { |field, values| values.map { |value| lines.map(&:dup).tap { |all| all[at][field] = value } } }.each do |changed|
        found = log(changed)
        expect([changed[at], found.odd_lines, said(found)]).to eq([changed[at], 1, left_out])
      end
    end
  end

  it "is no take's where what it begins with is none" do
    tracks = [{"file" => "../x"}, {"lanes" => []}, {"lanes" => ["1"]}, {"name" => nil}].map { |change| {"tracks" => [plan["tracks"][0].merge(change)]} }
    [{"uid" => 5}, {"number" => "4"}, {"sample_rate_hz" => 0}, {"sample_rate_hz" => 10**12}, {"folder" => "../../etc"}, {"folder" => nil}, {"copy" => 7},
      {"encoding" => "mp3"}, {"tracks" => [{"key" => "a"}]}, *tracks].each do |change|
      expect([change, log([lines[0].merge("plan" => plan.merge(change)), *lines.drop(1)])]).to eq([change, nil])
    end
    expect(log([lines[0].merge("start_frame" => "1000")])).to be_nil
  end

  # Lines lost, doubled, cut, in another order, with anything for any value.
  it "reads any journal without a fault" do
    random = Random.new(7)
    rubbish = ["", "x", nil, -1, 0, 1.5, 10**20, 1e300, [], {}, true, "../../etc", "rec/track/1"]
    600.times do
      some = lines.map { |line| JSON.parse(JSON.generate(line)) }
      random.rand(1..3).times do
        line = some.sample(random: random)
        holder = [line, line["plan"], line.dig("plan", "tracks", 0)].grep(Hash).sample(random: random)
        holder[holder.keys.sample(random: random)] = rubbish.sample(random: random) if holder.any?
        some.insert(random.rand(some.size), some.sample(random: random)) if random.rand(4).zero?
        some.delete_at(random.rand(some.size)) if random.rand(4).zero? && some.size > 1
      end
      text = some.map { |line| JSON.generate(line) + "\n" }.join
      text = text[0, random.rand(text.size)] if random.rand(5).zero?
      found = described_class.read(text)
      said(found) if found
    end
  end
end
