# frozen_string_literal: true

module Loomshuttle
  module Exchange
    # The patch sheets as data: what hangs on the stage and lies at the desk. Printing them
    # (paper/) and writing them as CSV both start here.
    #
    #   Sheets.of(show).first   # => {key: "inputs", title:, columns: [...], rows: [[...]]}
    module Sheets
      module_function

      KEYS = %w[inputs boxes mixes outputs tracks setlist labels linecheck].freeze
      TITLES = {"inputs" => "Input list",
                "boxes" => "Inputs by box",
                "mixes" => "Mixes and sends",
                "outputs" => "Outputs by box",
                "tracks" => "Card and tracks",
                "setlist" => "Set list",
                "linecheck" => "Line check",
                "labels" => "Labels for box fronts"}.freeze

      # @param keys [Array<String>] of KEYS
      # @param check [Linecheck::State, nil] without one that was begun there is no sheet of it
      # @return [Array<Hash>] {key:, title:, columns:, rows:}; boxes, outputs and labels one a
      #   device, mixes one a mix that something is sent to
      def of(show, keys = KEYS, check: nil)
        keys.flat_map { |key| (key == "linecheck") ? linecheck(show, check) : public_send(key, show) }
      end

      # What stands on every sheet, so that an old one is known for one.
      #
      # @return [Hash] {show:, venue:, scene:, checksum:}
      def heading(show)
        scene = show.scenes.key(show.patch)
        {show: show.name, venue: show.venue, scene: scene || "as patched", checksum: show.patch.sheet_checksum}
      end

      # @return [String] UTF-8, CRLF: RFC 4180
      def csv(sheet)
        CSV.generate(row_sep: "\r\n") do |out|
          out << sheet[:columns]
          sheet[:rows].each { |row| out << row.map { |cell| Cells.written(cell) } }
        end
      end

      # @return [String] a file's name of its own within one show
      def file_name(sheet) = "#{[sheet[:key], sheet[:device]].compact.join("-")}.csv"

      def inputs(show)
        rows = show.rows.values.map do |row|
          socket = show.patch.plugs[row.id]
          [row.number,
            row.name,
            row.mic,
            row.stand,
            phantom(row),
            socket ? show.rig.label(socket) : "",
            channels(show, row.id),
            lane(show, row),
            row.notes]
        end
        [sheet("inputs",
          TITLES["inputs"],
          ["No.", "Source", "Mic / DI", "Stand", "48 V", "Plugged in at", "Channel", "Lane", "Notes"],
          rows)]
      end

      def boxes(show)
        with_sockets(show, "mic").map do |device, sockets|
          rows = sockets.map do |socket|
            row = show.rows[show.row_at(socket)]
            [Endpoint.parse(socket).number,
              row&.name || "",
              row&.mic || "",
              row ? phantom(row) : "",
              row ? channels(show, row.id) : "",
              row&.number || ""]
          end
          sheet("boxes", "#{device.name}: inputs", ["Socket", "Source", "Mic / DI", "48 V", "Channel", "No."], rows, device.id)
        end
      end

      def mixes(show)
        Screens::SendTable.mixes(show).filter_map do |mix|
          table = Screens::SendTable.of(show, mix[:name])
          rows = table[:lines].reject { |line| line[:level_db].nil? }.map { |line| [line[:label], line[:carries], line[:level_db], line[:tap].to_s] }
          sheet("mixes", "Mix: #{mix[:label]}", ["From", "Source", "Level dB", "Tap"], rows, mix[:label].downcase.gsub(/[^a-z0-9]+/, "-").gsub(/\A-|-\z/, "")) if rows.any?
        end
      end

      def outputs(show)
        with_sockets(show, "out-socket").map do |device, sockets|
          rows = sockets.map { |socket| [Endpoint.parse(socket).number, *carried(show, socket), heard(show, socket)] }
          sheet("outputs", "#{device.name}: outputs", ["Output", "Carries", "Tap", "Delay ms", "Goes to"], rows, device.id)
        end
      end

      def tracks(show)
        rows = show.tracks.values.map do |track|
          line = show.graph.line_back(track.place)
          [track.number,
            track.name,
            track.armed ? "yes" : "",
            lane_number(line),
            show.label(line.last),
            return_lane(show, track),
            channels(show, track.row)]
        end
        [sheet("tracks", TITLES["tracks"], ["Track", "Name", "Armed", "Lane", "Records", "Return lane", "Channel"], rows)]
      end

      def return_lane(show, track)
        lane, sum_db = Signal::Returns.lane(show, track.place), Signal::Returns.sum_db(show, track)
        sum_db ? "#{lane}, summed, each at #{format("%g", sum_db)} dB" : lane || ""
      end

      # The evening in its order: how long each song is, what lies behind it, and when it begins if all goes as planned.
      def setlist(show)
        return [] if show.songs.empty?

        began_s = 0
        rows = show.songs.map.with_index(1) do |song, number|
          listed = show.set_list[song.id]
          length_s = Show::Played.of(show, song).frames.fdiv(song.sample_rate_hz).round
          row = [number, song.title, listed.key, clock(began_s), clock(length_s), listed.arrangement || "", then_words(listed, last: number == show.songs.size), listed.note]
          began_s += length_s + listed.talk_s + listed.break_s + ((listed.after == "wait") ? listed.wait_s : 0)
          row
        end
        [sheet("setlist", TITLES["setlist"], ["No.", "Song", "Key", "Begins at", "Length", "As", "Then", "Notes"], rows)]
      end

      THEN = {"go" => "waits for Go", "on" => "goes on", "stop" => "the set stops"}.freeze
      private_constant :THEN

      # Behind the last one nothing comes.
      def then_words(listed, last:)
        pauses = {"talk" => listed.talk_s, "break" => listed.break_s}.reject { |_, seconds| seconds.zero? }.map { |name, seconds| "#{name} #{clock(seconds)}" }
        [*pauses, *(THEN.fetch(listed.after) { "goes on after #{listed.wait_s} s" } unless last)].join(", ")
      end

      # @return [String] minutes and seconds, with hours where there are any
      def clock(seconds)
        hours, rest = seconds.divmod(3600)
        minutes = format("%02d:%02d", *rest.divmod(60))
        hours.zero? ? minutes.delete_prefix("0") : "#{hours}:#{minutes}"
      end

      # What the line check found, source by source in its order.
      def linecheck(show, check)
        return [] if check.nil? || check.verdicts.empty?

        rows = check.rows(show).map do |row|
          way, verdict = Linecheck::Way.of(show, row), check.verdict(show, row)
          [show.rows[row].number, show.label(row), way.socket ? show.rig.label(way.socket) : "", Words::Runs.text(way.lanes), STANDINGS.fetch(check.standing(show, row)), verdict&.peak_dbfs || "",
            (verdict && !verdict.fine?) ? Linecheck::Said.of(show, row, verdict).join(" ") : "", verdict&.who || "", verdict&.at.to_s[0, 16].tr("T", " ")]
        end
        [sheet("linecheck", TITLES["linecheck"], ["No.", "Source", "Plugged in at", "Lane", "Found", "Peak dBFS", "What", "Who", "When (UTC)"], rows)]
      end

      STANDINGS = {"open" => "not heard", "again" => "changed since", "fine" => "proved", "wrong" => "to mend", "skipped" => "skipped"}.freeze
      private_constant :STANDINGS

      # Short names, socket by socket, to be cut out and laid on a box.
      def labels(show)
        with_sockets(show, "mic").map do |device, sockets|
          rows = sockets.map { |socket|
            [Endpoint.parse(socket).number,
              show.rows[show.row_at(socket)]&.short_name || "",
              show.rows[show.row_at(socket)]&.colour || ""]
          }
          sheet("labels", device.name, %w[Socket Label Colour], rows, device.id)
        end
      end

      def sheet(key, title, columns, rows, device = nil) = {key: key, title: title, device: device, columns: columns, rows: rows}

      # Devices with such sockets that are there, and something at one of them.
      def with_sockets(show, family)
        show.rig.devices.values.filter_map do |device|
          sockets = show.places(device, family).select { |id| show.rig.present?(id) }
          [device, sockets] if sockets.any? { |id| (family == "mic") ? show.row_at(id) : carried(show, id).first != "" }
        end
      end

      def phantom(row) = {"yes" => "yes", "never" => "NEVER", "no" => ""}.fetch(row.phantom)
      def channels(show, row) = Signal::Sources.channel_names(show).fetch(row, []).join(", ")

      def lane(show, row)
        track = show.track_of_row(row.id)
        line = track && show.graph.line_back(track.place)
        line&.include?(show.patch.plugs[row.id]) ? lane_number(line) : ""
      end

      def lane_number(line) = line.find { |id| Endpoint.parse(id).family == "card-send" }&.then { |id| Endpoint.parse(id).number } || ""

      # The mix, channel or lane that leaves at a socket, past what only passes it on.
      def carried(show, socket)
        line = show.graph.line_back(socket)
        source = line.drop(1).find { |id| %w[bus main matrix channel].include?(show.rig.kind_of(id)) } || line.drop(1).last
        return ["", "", ""] unless source && Screens::Why.of(show, source).fine
        steps = line.take_while { |id| id != source }.map { |id| [id, show.patch.slots[id]] }.select(&:last)
        [source ? show.label(source) : "",
          steps.map { |_, take| take.tap }.compact.find { |tap| tap != "raw" } || "",
          steps.sum { |_, take| take.delay_ms }.then { |ms| ms.zero? ? "" : ms.round(2) }]
      end

      def heard(show, socket) = show.graph.from(socket).map { |edge| show.rig.device_of(edge.to)&.name }.compact.uniq.join(", ")
      private_class_method :sheet, :with_sockets, :phantom, :channels, :lane, :lane_number, :carried, :heard, :then_words, :clock
    end
  end
end
