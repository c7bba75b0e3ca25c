# frozen_string_literal: true

module Loomshuttle
  module Files
    # Makes a program of what was asked for, opening its files; either all of them, or none
    # stays open.
    #
    #   Programs.new(data_folder).build(request)   # => Render::Program
    class Programs
      # @param data_folder [String, nil] files are named relative to it and never lie outside; nil for paths of whoever asks,
      #   who may read what he likes
      def initialize(data_folder)
        @data_folder = data_folder
      end

      # @param request [Hash] DeckPlay of the contract, string keys
      # @raise [BadInput]
      def build(request)
        request["fault"]&.then { |fault| raise BadInput.new(field: fault["field"], value: fault["value"], allowed: fault["allowed"]) }
        opened = []
        voices = request.fetch("voices", []).map { |voice| voice(voice, request["rate_hz"], opened) }
        voices += [click(request["click"], request["rate_hz"])] if request["click"]
        raise BadInput.new(field: "voices", value: 0, allowed: "at least one voice or a click") if voices.empty?

        program(request, voices)
      rescue BadInput
        opened.each(&:close)
        raise
      end

      # What is cut out of the middle is sewn at its ends; what is whole goes round as it is.
      #
      # @param range [Array<Integer>, nil] frames from and to; without to, the end
      # @return [Render::Program]
      # @raise [BadInput]
      def looped(program, range)
        from, to = range
        return program.with_loop(nil) unless from

        to = [to || program.length_frames, program.length_frames].min
        raise BadInput.new(field: "loop", value: range.join(" to "), allowed: "a beginning before its end, within #{program.length_frames} frames") if from >= to

        whole = from.zero? && to == program.length_frames
        program.with_loop(from...to, whole ? 0 : (SEAM_S * program.rate_hz).round)
      end

      # As long as the line from before to after in a change.
      SEAM_S = 0.005
      private_constant :SEAM_S

      # Every lane sends its own sequence, all at once.
      #
      # @param request [Hash] DeckPing of the contract, string keys
      # @return [Render::Program]
      def ping(request, rate_hz)
        frames = request["frames"] || Render::PingSource::FRAMES
        voices = request["lanes"].map.with_index(1) do |lane, sequence|
          Render::Voice.new(key: "ping/#{lane}", source: Render::PingSource.new(sequence, frames: frames), lanes: [lane], gain_db: request["level_dbfs"].to_f)
        end
        Render::Program.new(label: "Return ping", key: "ping", rate_hz: rate_hz, voices: voices, length_frames: frames)
      end

      private

      def program(request, voices)
        whole = Render::Program.new(label: request["label"], key: request["key"], rate_hz: request["rate_hz"], voices: voices, length_frames: voices.reject(&:played).map(&:end_frames).max,
          bars: bars(request["bars"]))
        whole = whole.with_order(order(request["order"], whole)) if request["order"]
        mixed = looped(whole, request["loop"]).with_gains(request.fetch("gains_db", {}).transform_values(&:to_f)).with_muted(request.fetch("muted", []))
        mixed.with_solo(request.dig("solo", "key"), request.dig("solo", "lanes") || [])
      end

      def voice(given, rate_hz, opened)
        pieces = given["pieces"].map { |piece| [piece.fetch("at", 0), source(piece, rate_hz, opened)] }
        whole = (pieces.size == 1 && pieces.first.first.zero?) ? pieces.first.last : Render::Pieced.new(pieces)
        Render::Voice.new(key: given["key"], source: whole, played: given["played"] || false, **way(given)).tap { |made| refuse_lanes(made) }
      end

      # Where it goes and how loud; decks of before wrote one lane of the click.
      def way(given)
        {lanes: given["lanes"] || [given["lane"]], gain_db: given.fetch("gain_db", 0.0).to_f, fold_db: given.fetch("fold_db", -6.0).to_f,
         also: given.fetch("also", []).map { |one| [one["lanes"], one["level_db"].to_f] }.freeze}
      end

      def refuse_lanes(voice)
        wrong = [voice.lanes, *voice.also.map(&:first)].find { |lanes| !voice.takes?(lanes.size) } or return
        raise BadInput.new(field: "lanes", value: wrong.join(", "), allowed: "one lane for the sum, or one for each of #{voice.source.channels} channels")
      end

      def source(piece, rate_hz, opened)
        path = @data_folder ? Runtime::Inside.path(@data_folder, piece["path"]) : piece["path"]
        source = WavSource.new(path, channels: piece["channels"])
        opened << source
        return source if source.rate_hz == rate_hz

        raise BadInput.new(field: File.basename(piece["path"]), value: "#{source.rate_hz} Hz", allowed: "#{rate_hz} Hz, as all that plays with it; convert the file first")
      rescue Errno::ENOENT, Errno::EISDIR
        raise BadInput.new(field: "file", value: File.basename(piece["path"]), allowed: "a file of this take that is still there")
      rescue SystemCallError => e
        raise BadInput.new(field: "file", value: File.basename(piece["path"]), allowed: "a file that can be read; this one says: #{e.message}")
      end

      def click(given, rate_hz)
        style = given.fetch("style", {}).transform_keys(&:to_sym)
        click = Music::Click.new(Music::TempoMap.from_h(given["tempo"]), Music::Click::Style.new(**style), rate_hz: given["rate_hz"], to_bar: given["to_bar"],
          brought: given["brought"]&.to_h { |kind, path| [kind.to_sym, brought(path, rate_hz)] })
        source = Render::ClickSource.new(click, frames: [click.frames, given["frames"]].min)
        Render::Voice.new(key: Show::CLICK_ROLE, source: source, dry: true, at_frames: given["at"], **way(given))
      end

      # @return [Numo::SFloat] [frames], all of it: a click sounds in the middle of a block
      def brought(path, rate_hz)
        opened = []
        found = source({"path" => path}, rate_hz, opened)
        found.read(0, found.frames)[0, true].dup
      ensure
        opened.each(&:close)
      end

      def order(given, whole)
        ranges = given["ranges"].map { |from, to| from...[to, whole.length_frames].min }
        raise BadInput.new(field: "order", value: given["ranges"].inspect, allowed: "parts that lie within #{whole.length_frames} frames") if ranges.empty? || ranges.any?(&:none?)

        Render::Order.new(ranges: ranges.freeze, seam_frames: given.fetch("seam_frames", 0), tail_frames: given.fetch("tail_frames", 0))
      end

      def bars(given) = given && Render::Bars.new(map: Music::TempoMap.from_h(given["tempo"]), at_frame: given["at"])
    end
  end
end
