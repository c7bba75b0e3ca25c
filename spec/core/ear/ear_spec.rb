# frozen_string_literal: true

require "core_helper"
require "support/quiet_stage"
require "open3"
require "support/wav_files"

RSpec.describe Loomshuttle::Ear do
  let(:described) { Loomshuttle::Ear }

  describe Loomshuttle::Ear::Arrivals do
    it "hears a tap on its lane, at its sample and level, and hears nothing of a quiet stage" do
      stage = QuietStage.new(lanes: 8, seconds: 3)
      stroke = stage.stroke
      from = stage.put(3, stroke, at_s: 1.5, peak_dbfs: -14)
      (arrival, told_s), *more = stage.heard
      expect(more).to eq([])
      expect([arrival.lane, arrival.heard.size]).to eq([3, 1])
      expect(arrival.heard.first).to have_attributes(peak_dbfs: be_within(0.1).of(-14), clipped: false)
      expect(arrival.frame).to be_between(from, from + 48)
      expect(told_s).to be < 0.3
      expect(arrival.floor_dbfs).to be_within(2).of(-88 + 3.01)
    end

    it "takes the lane that began first where a neighbour's preamp is open as much further as bleed is softer" do
      stage = QuietStage.new(lanes: 4, seconds: 3)
      stroke = stage.stroke
      stage.put(2, stroke, at_s: 1.2, peak_dbfs: -22)
      stage.put(3, stroke, at_s: 1.2, peak_dbfs: -18, late_frames: 140)
      expect(stage.heard.map { |arrival, _| [arrival.lane, arrival.heard.map(&:lane)] }).to eq([[2, [2, 3]]])
    end

    it "says how alike two lanes are, with delay and polarity" do
      stage = QuietStage.new(lanes: 4, seconds: 3)
      stroke = stage.stroke
      stage.put(1, stroke, at_s: 1.2)
      stage.put(2, stroke, at_s: 1.2, peak_dbfs: -20, inverted: true, late_frames: 37)
      stage.put(4, stroke, at_s: 1.2, peak_dbfs: -14)
      (arrival, _), = stage.heard
      expect(arrival.on(2).like).to have_attributes(likeness: be > 0.9, delay_frames: 37, inverted: true)
      expect(arrival.on(4).like).to have_attributes(likeness: be > 0.99, delay_frames: 0, inverted: false)
    end

    it "tells one that goes on from one that begins, and does not take the other's bleed for a tap" do
      stage = QuietStage.new(lanes: 4, seconds: 4)
      5.times { |n|
        stage.stroke.then { |stroke|
          [stage.put(1, stroke, at_s: 1 + n * 0.15), stage.put(2, stroke, at_s: 1 + n * 0.15, peak_dbfs: (n == 3) ? -30 : -48, late_frames: 200)]
        }
      }
      stage.put(4, stage.stroke, at_s: 2.5)
      expect(stage.heard.map { |arrival, _| arrival.lane }).to eq([1, 4])
    end

    # With a dirty plug's crack or without, soft or loud, rising or not, while a tap on another lane comes later.
    it "tells hum that begins from somebody who taps" do
      [[50, [1, 0.5, 0.3], -40, 48_000, 1024],
        [60, [0.2, 1, 0.1, 0.4], -46, 44_100, 512], [50, [1], -20, 96_000, 1000]].each_with_index do |(hz, overtones, dbfs, rate_hz, block), at|
        stage = QuietStage.new(lanes: 4, seconds: 2.8, rate_hz: rate_hz, seed: at)
        hum = stage.mains(seconds: 1.8, hz: hz + 0.1 - at * 0.1, overtones: overtones, rise_s: [0.001, 0.4, 0.05][at])
        stage.put(2, hum, at_s: 1, peak_dbfs: dbfs)
        stage.put(3, hum, at_s: 1, peak_dbfs: dbfs - 20)
        stage.put(4, stage.stroke, at_s: 2.3)
        heard = stage.heard(block_frames: block).map(&:first)
        expect(heard.map { |one| [one.lane, one.humming] }).to eq([[2, true], [4, false]])
        expect(heard.first.hum).to have_attributes(hz: hz, over_db: be > 15)
      end
    end

    it "tells hum that begins beside somebody who plays on" do
      stage = QuietStage.new(lanes: 4, seconds: 4)
      6.times { |n| stage.put(1, stage.stroke, at_s: 1 + n * 0.2, peak_dbfs: -14) }
      stage.put(3, stage.mains(seconds: 2.2, hz: 50, overtones: [1, 0.5]), at_s: 1.6, peak_dbfs: -40)
      expect(stage.heard.map { |one, _| [one.lane, one.humming] }).to eq([[1, false], [3, true]])
    end

    # The dirty plug of one, and somebody who taps elsewhere before it is settled what that was.
    it "hears a tap that comes while hum is told from somebody's note, also where it turns out to be a note" do
      [[50, 0.13, 1024, true], [60, 0.35, 512, true], [50, 0.55, 64, true], [49.0, 0.3, 1000, false]].each do |hz, later_s, block, hums|
        stage = QuietStage.new(lanes: 4, seconds: 2.6)
        steady = stage.mains(seconds: 1.5, hz: hz, overtones: [1, 0.5], rise_s: 0.001)
        stage.put(2, steady, at_s: 1, peak_dbfs: -40)
        stage.put(3, steady, at_s: 1, peak_dbfs: -58, late_frames: 90)
        stroke = stage.stroke
        [[4, -20], [1, -34]].each { |lane, peak_dbfs| stage.put(lane, stroke, at_s: 1 + later_s, peak_dbfs: peak_dbfs, late_frames: (lane == 1) ? 200 : 0) }
        heard = stage.heard(block_frames: block).map { |one, told_s| [one.lane, one.humming, told_s < 0.8] }
        expect([hz, block, heard]).to eq([hz, block, [[2, hums, true], [4, false, true]]])
      end
    end

    # G and B are the notes next to the mains and its harmonics; somebody's steady note is somebody.
    it "takes no note for hum, however steady and however near" do
      [49.0, 61.74, 98.0, 123.47, 146.83, 196.0, 246.94, 100.8, 110.0, 440.0, 1000.0].each do |hz|
        stage = QuietStage.new(lanes: 1, seconds: 2.2)
        stage.put(1, stage.mains(seconds: 1.2, hz: hz, overtones: [1, 0.4, 0.2]), at_s: 1.2, peak_dbfs: -20)
        expect([hz, stage.heard.map { |one, _| [one.lane, one.humming] }]).to eq([hz, [[1, false]]])
      end
    end

    it "takes no drum for hum that is tuned to the mains, and tells it as soon as any" do
      [50, 60, 100].product([0.04, 0.12]).each do |hz, decay_s|
        stage = QuietStage.new(lanes: 1, seconds: 2.2)
        drum = stage.mains(seconds: 0.9, hz: hz, overtones: [1, 0.2], rise_s: 0.002)
        stage.put(1, drum * Numo::NMath.exp(Numo::DFloat.new(drum.size).seq / (-decay_s * 48_000)), at_s: 1.2, peak_dbfs: -10)
        expect([hz, stage.heard.map { |one, told_s| [one.lane, one.humming, told_s < 0.3] }]).to eq([hz, [[1, false, true]]])
      end
    end

    # The onset of what swells may lie at the very end of what was listened to.
    it "hears what swells, from a moment to a second" do
      random = Random.new(2)
      6.times do
        stage = QuietStage.new(lanes: 1, seconds: 2.4, seed: random.rand(1000))
        note = stage.mains(seconds: 1.1, hz: random.rand(40.0..500.0), overtones: [1], rise_s: random.rand(0.01..1.0))
        stage.put(1, note**3, at_s: 1.2, peak_dbfs: random.rand(-40.0..-5.0))
        expect(stage.heard(block_frames: [64, 100, 256, 1024].sample(random: random)).map { |one, _| one.lane }).to eq([1])
      end
    end

    it "begins anew where frames were lost, and does not put together what is apart" do
      stage = QuietStage.new(lanes: 2, seconds: 2)
      stage.put(1, stage.stroke(seconds: 0.015), at_s: 48 * 1024 / 48_000.0)
      ear = described_class.new(lanes: 2, rate_hz: 48_000, block_frames: 1024)
      told = (0...90).filter_map do |n|
        frame = n * 1024 + ((n > 48) ? 50_000 : 0)
        ear.hear(QuietStage::Block.new(frame, 1024, stage.samples[true, (n * 1024)...((n + 1) * 1024)]))
      end
      expect(told).to eq([])
    end

    it "takes what sounds behind lost frames for nothing that begins, for its peak may be among them; the next tap is heard" do
      stage = QuietStage.new(lanes: 2, seconds: 3)
      [48.5, 70.2].each { |block| stage.put(1, stage.stroke(seconds: 0.06), at_s: block * 1024 / 48_000.0) }
      ear = described_class.new(lanes: 2, rate_hz: 48_000, block_frames: 1024)
      told = [*0...48, *49...130].filter_map { |n| ear.hear(QuietStage::Block.new(n * 1024, 1024, stage.samples[true, (n * 1024)...((n + 1) * 1024)])) }
      expect(told.map { |one| [one.lane, one.frame] }).to match([[1, be_within(48).of(70.2 * 1024)]])
    end

    it "names the lane of every tap on random stages, whatever the block, the lanes and the bleed" do
      wrong = 6.times.filter_map do |seed|
        lanes = 2 + seed * 7 % 15
        stage = QuietStage.new(lanes: lanes, seconds: 2.2, rate_hz: [44_100, 48_000, 96_000][seed % 3], noise_dbfs: -90 + seed % 10, seed: seed)
        lane = 1 + stage.pick(lanes)
        stroke, at_s, peak_dbfs = stage.stroke, stage.any(0.9, 1.6), stage.any(-35, -3)
        stage.put(lane, stroke, at_s: at_s, peak_dbfs: peak_dbfs)
        [lane - 1, lane + 1].select { |other| other.between?(1, lanes) }
          .each { |other| stage.put(other, stroke, at_s: at_s, peak_dbfs: peak_dbfs - stage.any(8, 25), late_frames: (stage.any(0.002, 0.012) * stage.rate_hz).round) }
        heard = stage.heard(block_frames: [256, 512, 1000, 1024][seed % 4]).map { |arrival, told_s| [arrival.lane, told_s < 0.3] }
        [seed, lane, heard] unless heard == [[lane, true]]
      end
      expect(wrong).to eq([])
    end
  end

  describe Loomshuttle::Ear::Hum do
    it "finds 50 and 60 Hz with their level, and none in noise or in a bass" do
      found = [50, 60].map do |hz|
        stage = QuietStage.new(lanes: 1, seconds: 0.8)
        stage.hum(1, hz: hz, dbfs: -50, overtones: [1])
        described_class.of(stage.samples[0, true], rate_hz: 48_000)
      end
      expect(found.map { |hum| [hum.hz, hum.level_dbfs.round] }).to eq([[50, -50], [60, -50]])
      expect(found.map(&:over_db)).to all(be > 25)
      quiet = QuietStage.new(lanes: 1, seconds: 0.8)
      expect(described_class.of(quiet.samples[0, true], rate_hz: 48_000).over_db).to be < 6
      quiet.hum(1, hz: 41.2, dbfs: -30)
      expect(described_class.of(quiet.samples[0, true], rate_hz: 48_000).over_db).to be < 6
    end

    it "says nothing of what is too short, or of digital silence" do
      expect(described_class.of(Numo::SFloat.zeros(48_000), rate_hz: 48_000)).to be_nil
      expect(described_class.of(Numo::SFloat.new(20_000).rand, rate_hz: 48_000)).to be_nil
    end

    # Outside the project: the level that sox reads of the same file, in which there is little else.
    it "agrees with sox about the level of the hum" do
      stage = QuietStage.new(lanes: 1, seconds: 2)
      stage.hum(1, hz: 50, dbfs: -40, overtones: [1])
      Dir.mktmpdir do |folder|
        path = File.join(folder, "hum.wav")
        File.binwrite(path, WavFiles.riff(WavFiles.fmt(1, 1, 48_000, 24), WavFiles.chunk("data", QuietStage.bytes(stage.samples[0, true]))))
        _, report, = Open3.capture3("sox", path, "-n", "stats")
        rms_db = report[/RMS lev dB\s+(-[\d.]+)/, 1].to_f
        expect(described_class.of(stage.samples[0, 0...48_000], rate_hz: 48_000).level_dbfs).to be_within(0.5).of(rms_db + 3.01)
      end
    end
  end

  describe Loomshuttle::Ear::Likeness do
    # The plain sum, written down without any transform.
    def plain(one, other, most)
      energy = Math.sqrt((one**2).sum * (other**2).sum)
      (-most..most).map { |delay|
        sum = (0...one.size).sum { |at| (at + delay).between?(0, other.size - 1) ? one[at] * other[at + delay] : 0.0 }
        [sum.abs / energy, delay, sum.negative?]
      }.max_by(&:first)
    end

    it "is what the plain sum says, for any lengths and delays" do
      12.times do |seed|
        Numo::NArray.srand(seed)
        one, other = Array.new(2) { Numo::DFloat.new(20 + seed * 7).rand_norm }
        most = seed * 3
        expect(described_class.of(one, other, most_frames: most).to_a.map { |value| value.is_a?(Float) ? value.round(9) : value })
          .to eq(plain(one, other, [most, one.size - 1].min).map { |value| value.is_a?(Float) ? value.round(9) : value })
      end
    end
  end

  describe Loomshuttle::Ear::Clips do
    it "takes three samples in a row at full scale for a clip, two not" do
      two = Numo::SFloat[0, 1, 1, 0, -1, 0, 1, 0.5]
      expect([described_class.any?(two), described_class.any?(Numo::SFloat[0, -1, -1, -1, 0]), described_class.any?(Numo::SFloat.zeros(4))]).to eq([false, true, false])
    end
  end

  describe Loomshuttle::Ear::Account do
    def hum(samples)
      account = described_class.new(rate_hz: 48_000)
      account.add(Numo::SFloat.cast(samples))
      account.report { |from, count| Numo::SFloat.cast(samples)[from...[from + count, samples.size].min] }[:hum]
    end

    def tone(hz, seconds, dbfs)
      time = Numo::DFloat.new((seconds * 48_000).round).seq / 48_000
      (1..4).sum { |n| Numo::NMath.sin(time * (2 * Math::PI * hz * n) + n * n) / n } * 10**(dbfs / 20.0)
    end

    def noise(seconds, dbfs) = Numo::DFloat.new((seconds * 48_000).round).rand_norm(0, 10**(dbfs / 20.0))

    # G1 and B1 of a tempered scale, the nearest to the mains: 49.0 and 61.7 Hz.
    it "takes no bass for hum that plays from the first second to the last" do
      notes = [49.0, 61.74, 55.0, 49.0].map { |hz| tone(hz, 1.5, -14) }
      expect(hum(notes.reduce(:concatenate) + noise(6, -90))).to be_nil
      expect(hum(tone(49.0, 6, -14) + noise(6, -90))).to be_nil
    end

    it "finds hum in the pauses of who plays, under a take in which nobody plays, and where there is nothing but hum" do
      played = noise(6, -95)
      played[0...96_000] += tone(49.0, 2, -14)
      [played + tone(50, 6, -50), noise(6, -88) + tone(60, 6, -80), tone(50, 6, -20) + noise(6, -60)].zip([50, 60, 50]) do |samples, hz|
        expect(hum(samples)).to have_attributes(hz: hz, over_db: be > 15)
      end
    end
  end

  describe Loomshuttle::Ear::Minute do
    # Blocks of a sine that is silent for some of the seconds, at any rate and block.
    def heard(peak, seconds, rate_hz: 48_000, block_frames: 1024)
      minute = described_class.new(lanes: 2, blocks_per_s: rate_hz / block_frames.to_f)
      seconds.each do |on|
        (rate_hz / block_frames.to_f).round.times do
          level = on ? peak : 0.0
          minute.add(Numo::Int32.cast([[-level * 2**31, 0], [level * (2**31 - 129), 0]]), Numo::SFloat[level**2 / 2, 0])
        end
      end
      [minute.peak_dbfs, minute.rms_dbfs]
    end

    it "has the level of what was played, without the pauses: a sine's rms is its peak (AES17)" do
      [[48_000, 1024], [44_100, 256], [96_000, 1000]].each do |rate_hz, block_frames|
        expect(heard(0.1, [true, false, false, true, false], rate_hz: rate_hz, block_frames: block_frames)).to eq([[-20.0, nil], [-20.0, nil]])
      end
    end

    it "forgets a lane whose preamp was turned, with the second in which that was done, and no other lane" do
      minute = described_class.new(lanes: 2, blocks_per_s: 10)
      play = ->(level, blocks) { blocks.times { minute.add(Numo::Int32.cast([[0, 0], [level * 2**31, 0.1 * 2**31]]), Numo::SFloat[level**2 / 2, 0.005]) } }
      play.call(0.5, 15)
      minute.forget([1, 9])
      expect(minute.rms_dbfs).to eq([nil, -20.0])
      play.call(0.5, 5)
      play.call(0.01, 10)
      expect([minute.peak_dbfs, minute.rms_dbfs]).to eq([[-40.0, -20.0], [-40.0, -20.0]])
    end

    it "forgets what is over a minute old, and knows nothing before a second is over" do
      expect(heard(0.1, [true, *[false] * 59])).to eq([[-20.0, nil], [-20.0, nil]])
      expect(heard(0.1, [true, *[false] * 60])).to eq([[nil, nil], [nil, nil]])
      expect(heard(0.1, [])).to eq([[nil, nil], [nil, nil]])
    end
  end
end
