# frozen_string_literal: true

require "core_helper"
require "tmpdir"
require "timeout"
require_relative "../../boot/runtime"

RSpec.describe Loomshuttle::Runtime do
  around { |example| Dir.mktmpdir { |folder| (@folder = folder) && example.run } }

  describe Loomshuttle::Runtime::Loop do
    # Begun within the block that listens: a turn may be over before anybody does.
    def run_to_end(**how, &turn) = described_class.start("x", retry_s: 0.001, **how, &turn).join(60)

    it "goes on after a turn that raised, and tells of it once" do
      told = Thread::Queue.new
      turns = 0
      expect do
        run_to_end(tell: ->(name, error) { told << [name, error.message] }) do
          turns += 1
          (turns < 5) ? raise("out of breath") : described_class::DONE
        end
      end.to output(/x: .*out of breath/).to_stderr
      expect([turns, told.size, told.pop]).to eq([5, 1, ["x", "out of breath"]])
    end

    it "goes on when even the telling fails" do
      turns = 0
      expect do
        run_to_end(tell: ->(*) { raise "deaf" }) { ((turns += 1) < 2) ? raise("a") : described_class::DONE }
      end.to output(/could not be told: deaf/).to_stderr
      expect(turns).to eq(2)
    end
  end

  describe "lines between processes" do
    let(:path) { File.join(@folder, "run/x.sock") }
    let(:api) {
      {"openapi" => "3.1.0", "info" => {"title" => "x", "version" => "1"}, "paths" => {},
       "components" => {"schemas" => {"TestAdd" => {"type" => "object", "required" => %w[a b], "properties" => {"a" => {"type" => "integer"}, "b" => {"type" => "integer"}}}}}}
    }
    let(:contract) { Loomshuttle::Runtime::LineContract.new(api, "Test", %w[add fail slow]) }
    let(:client) { Loomshuttle::Runtime::LineClient.new(path, who: "the adder") }
    let!(:server) do
      Loomshuttle::Runtime::LineServer.new(path, contract: contract) do |request|
        case request["do"]
        when "add" then (@added = request["a"] + request["b"])
        when "slow" then sleep(0.3)
        else raise "no breath"
        end
      end
    end

    def raw = UNIXSocket.new(path)

    it "asks, is answered, and is refused with every fault in one sentence" do
      expect(client.ask(do: "add", a: 1, b: 2)).to eq(3)
      expect { client.ask(do: "add", a: "x") }.to raise_error(Loomshuttle::BadInput, /a.*not an integer.*missing required properties: b/)
      expect { client.ask(do: "dance") }.to raise_error(Loomshuttle::BadInput, "do: \"dance\" is not usable; add, fail, slow")
    end

    it "answers also what failed, and goes on" do
      expect { expect { client.ask(do: "fail") }.to raise_error(Loomshuttle::BadInput, /no breath/) }.to output(/no breath/).to_stderr
      expect(client.ask(do: "add", a: 1, b: 1)).to eq(2)
    end

    it "is for its owner alone" do
      expect(File.stat(path).mode & 0o777).to eq(0o600)
    end

    # As a web page could make a browser send it.
    it "closes on the first line that is no JSON, and does nothing of what follows" do
      line = raw
      line.write("POST / HTTP/1.1\r\n\r\n{\"do\":\"add\",\"a\":5,\"b\":5}\n")
      expect(line.wait_readable(60) && line.read).to eq("")
      expect(@added).to be_nil
    end

    it "does not begin what its caller has given up" do
      line = raw
      line.write(JSON.generate(do: "add", a: 1, b: 2, until_s: Process.clock_gettime(Process::CLOCK_MONOTONIC) - 0.1) + "\n")
      expect(JSON.parse(line.gets)["error"]["message"]).to include("gave up before it was begun")
      expect(@added).to be_nil
    end

    it "gives up on what takes too long, and says who does not answer" do
      expect { client.ask({do: "slow"}, seconds: 0.05) }.to raise_error(Loomshuttle::Runtime::Gone, /the adder does not answer \(no answer in 0.05 s\)/)
      expect { Loomshuttle::Runtime::LineClient.new("#{path}.not", who: "nobody").ask(do: "add") }.to raise_error(Loomshuttle::Runtime::Gone, /nobody does not answer/)
    end

    it "keeps nobody waiting behind somebody else's slow request" do
      slow = Thread.new { client.ask({do: "slow"}, seconds: 60) }
      expect(client.ask(do: "add", a: 1, b: 2)).to eq(3)
      expect(slow.alive?).to be(true)
      slow.join
    end

    it "sends what is published to whoever follows, and drops who does not read" do
      deaf = raw.tap { |line| line.write("{\"do\":\"subscribe\"}\n") }
      heard = Thread::Queue.new
      Thread.new { client.follow { |frame| heard << frame } }.report_on_exception = false
      Timeout.timeout(60) do
        server.publish(n: "x" * 30_000) && sleep(0.005) until heard.size > 20
      end
      expect(heard.pop["n"].size).to eq(30_000)
      expect(deaf.wait_readable(5)).to be_truthy
    end

    it "works where the path is longer than a socket's may be" do
      long = File.join(@folder, "a" * 60, "b" * 60, "x.sock")
      Loomshuttle::Runtime::LineServer.new(long, contract: contract) { 7 }
      expect(Loomshuttle::Runtime::LineClient.new(long, who: "x").ask(do: "slow")).to eq(7)
    end
  end

  describe Loomshuttle::Runtime::Inside do
    it "takes what lies inside, and neither what leaves by its name nor by a link" do
      inside = File.join(@folder, "in").tap { |folder| Dir.mkdir(folder) }
      File.symlink("/etc", File.join(inside, "out"))
      expect(described_class.path(inside, "a/b.wav")).to eq(File.join(File.realpath(inside), "a/b.wav"))
      ["../x", "/etc/passwd", "a/../../x", "out/passwd", "", ".", "a\0b"].each do |path|
        expect { described_class.path(inside, path) }.to raise_error(Loomshuttle::BadInput, /a path inside its own folder/), path
      end
    end
  end

  describe Loomshuttle::Runtime::Disk do
    it "measures where the folder is, and says when nobody can" do
      expect(described_class.free_bytes(@folder)).to be > 0
      expect(described_class.free_bytes("/nowhere")).to be_nil
    end
  end
end
