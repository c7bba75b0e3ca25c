# frozen_string_literal: true

module Loomshuttle
  module Server
    module Store
      # The library's songs with their stems and roles; each song has versions and a history of its own. A show
      # has only ids; what it knows of its songs is laid beside it when it is read (Show#library).
      class Songs
        COLUMNS = %i[id version title bpm beats_per_bar count_in_bars tempo bar_1_frame click sections arrangements cues spoken tempi markers sample_rate_hz
          length_frames loudness_lufs true_peak_dbtp folder].freeze
        STEM_COLUMNS = %i[id name role file original channels sample_rate_hz frames loudness_lufs true_peak_dbtp sides_db sum_peak_dbfs].freeze
        ROLE_COLUMNS = %i[name hidden lanes gain_db fold_db usual].freeze
        # What an edit of a song may change, and what undo puts back.
        EDITED = %i[title bpm beats_per_bar count_in_bars tempo bar_1_frame click sections arrangements cues].freeze
        # What a show needs of a song.
        SUMMARY = %i[id title bpm beats_per_bar count_in_bars tempo bar_1_frame click sections arrangements cues spoken tempi sample_rate_hz length_frames loudness_lufs
          true_peak_dbtp].freeze
        JSON_COLUMNS = %i[tempo click sections arrangements cues tempi markers].freeze
        # Roles beyond this stand behind all others: the click and what is like it.
        LAST = 1000
        private_constant :COLUMNS, :STEM_COLUMNS, :EDITED, :SUMMARY, :JSON_COLUMNS, :ROLE_COLUMNS, :LAST

        def initialize(database, changes = Changes.new(database))
          @database, @changes = database, changes
        end

        # @return [Sequel::SQL::AliasedExpression] for whoever asks for the library's version beside something else
        def version_query = @database[:library].select(:version).as(:library)

        def rate_hz = @database[:library].get(:rate_hz)
        def there?(id) = @database[:songs].where(id: id).any?

        # @return [Hash] count, songs: by title
        def list(search: "", from: 0, limit: 50)
          found = search.to_s.split.first(8).reduce(@database[:songs]) { |songs, word| songs.where(Sequel.ilike(:title, "%#{songs.escape_like(word)}%")) }
          stems = Sequel.function(:array_agg, Sequel.lit("DISTINCT role"))
          rows = found.order(:title, :id).limit(limit, from).select(*(COLUMNS - JSON_COLUMNS - %i[bar_1_frame spoken])).all
          ids = rows.map { |row| row[:id] }
          roles = @database[:stems].where(song_id: ids).group(:song_id).select(:song_id, stems.as(:roles), Sequel.function(:count).*.as(:stems)).as_hash(:song_id)
          {count: found.count, songs: rows.map { |row| row.except(:folder).merge(roles: roles.dig(row[:id], :roles).to_a.sort, stems: roles.dig(row[:id], :stems) || 0) }}
        end

        # @return [Hash] the song with its stems
        # @raise [BadInput]
        def find(id)
          song = @database[:songs].where(id: id).select(*COLUMNS).first or raise BadInput.new(field: "song", value: id, allowed: "a song of the library")
          plain_json(song).merge(stems: @database[:stems].where(song_id: id).order(:position).select(*STEM_COLUMNS).all)
        end

        # Phrases that lie ready now as well.
        #
        # @param keys [Array<String>]
        def spoken(id, keys)
          changed { @database[:songs].where(id: id).update(spoken: Sequel.pg_array(@database[:songs].where(id: id).for_update.get(:spoken).to_a | keys, :text)) }
        end

        # A tempo lies ready now.
        #
        # @param frames [Hash{String => Integer}] of each stem's file
        def tempo_ready(id, percent, frames)
          changed do
            before = plain(@database[:songs].where(id: id).for_update.get(:tempi) || {})
            @database[:songs].where(id: id).update(tempi: Sequel.pg_jsonb(before.merge(percent.to_s => {"frames" => frames})))
          end
        end

        # How it sounds is known now.
        #
        # @param whole [Hash] loudness_lufs, true_peak_dbtp
        # @param stems [Hash{String => Hash}] file => those of it, sides_db, sum_peak_dbfs
        def measured(id, whole, stems)
          changed do
            @database[:songs].where(id: id).update(whole)
            stems.each { |file, sound| @database[:stems].where(song_id: id, file: file).update(sound) }
          end
        end

        # @return [String] of its files
        def folder(id) = @database[:songs].where(id: id).get(:folder)

        # @return [Hash{String => String}] song id => folder
        def folders(ids) = ids.empty? ? {} : @database[:songs].where(id: ids).select_hash(:id, :folder)

        # @return [Show::Song]
        # @raise [BadInput]
        def summary(id) = summaries([id]).first || raise(BadInput.new(field: "song", value: id, allowed: "a song of the library"))

        # @param song [Hash] columns of songs
        # @param stems [Array<Hash>] columns of stems
        def create(song, stems)
          changed do
            @database[:songs].insert(wrapped(song))
            rows = stems.map.with_index { |stem, at| {song_id: song[:id], position: at, **stem} }
            @database[:stems].multi_insert(rows)
            learn_roles(stems)
          end
        end

        # @param given [Hash] symbol keys of EDITED, and stems: [{id:, name:, role:}] in their new order
        # @return [Hash] the song as it is then
        # @raise [Shows::Outdated, BadInput]
        def change(id, version, author, label, given)
          changed do
            @database[:songs].where(id: id).for_update.first
            was = find(id)
            raise Shows::Outdated.new(version, was[:version], others(id, author, version)) unless version == was[:version]

            write(id, was, given)
            became = find(id)
            @database[:song_edits].where(song_id: id, client: author.client, undone: true).delete
            @database[:song_edits].insert(song_id: id, version: became[:version], label: label, was: snapshot(was), became: snapshot(became), who: author.who,
              client: author.client)
          end
          find(id)
        end

        # Takes back the newest edit of this browser, or (redo) does the one that it undid last again.
        #
        # @return [Hash, Refusal] the song
        def replay(id, author, word)
          refused = nil
          changed do
            entry = entry(id, author, word) or next refused = nothing(word)
            from, to = (word == "undo") ? %i[became was] : %i[was became]
            next refused = built_on(word, entry) unless plain(entry[from]) == plain(snapshot(find(id)))

            write(id, find(id), JSON.parse(JSON.generate(entry[to]), symbolize_names: true))
            @database[:song_edits].where(id: entry[:id]).update(undone: word == "undo")
          end
          refused || find(id)
        end

        # @return [Hash] undo, redo: labels, nil where there is none
        def labels(id, author) = %w[undo redo].to_h { |word| [word, entry(id, author, word)&.fetch(:label)] }

        # @return [Array<Hash>] roles of the library: name, hidden, lanes, settled, gain_db, fold_db, usual
        def roles = @database[:roles].order(:position, :name).select(*ROLE_COLUMNS, :settled).all.map { |role| role.merge(usual: role[:usual].to_a) }
        def role_names = @database[:roles].order(:position, :name).select_map(:name)

        # @param given [Hash] of ROLE_COLUMNS, but for the name
        # @raise [BadInput]
        def change_role(name, given)
          changed do
            usual = given[:usual]&.then { |lanes| {usual: Sequel.pg_array(lanes, :integer)} }
            count = @database[:roles].where(name: name).update(settled: true, **given.slice(*ROLE_COLUMNS - [:name]), **usual.to_h)
            raise BadInput.new(field: "role", value: name, allowed: role_names.join(", ")) if count.zero?
          end
        end

        # Lays what the library says into a show's document, before it becomes a show.
        #
        # @param document [Hash] string keys
        # @param text [String] the same as JSON
        def into(document, text)
          songs = summaries(document.fetch("set_list", []).map { |one| Show::Listed.from_data(one).song })
          used = text.scan(%r{"songs/role/([a-z0-9-]+)"}).flatten
          document.merge("songs" => songs.map { |song| song.to_data.transform_keys(&:to_s).merge("stems" => song.stems.map { |stem| stem.to_data.transform_keys(&:to_s) }) },
            "roles" => roles_of(songs, used).map { |role| role.to_data.transform_keys(&:to_s) })
        end

        # The show with what the library knows of songs that it may name.
        #
        # @return [Show]
        def known(show, ids)
          missing = ids - show.library.keys
          return show if missing.empty?

          songs = summaries(missing)
          roles = show.roles.merge(roles_of(songs, []).to_h { |role| [role.name, role] })
          show.with(library: show.library.merge(songs.to_h { |song| [song.id, song] }).freeze, roles: in_order(roles.values).to_h { |role| [role.name, role] }.freeze)
        end

        # What a show from elsewhere brings becomes the library's; a song that is there by its id and title is
        # that one, one of the same id and another title gets an id of its own.
        #
        # @return [Show] with the ids that its songs have here
        def adopt(show)
          learn(show.roles.values.map { |role| {name: role.name, hidden: role.hidden, lanes: role.pair ? "pair" : "own", gain_db: role.gain_db, fold_db: role.fold_db, usual: Sequel.pg_array(role.usual, :integer)} })
          ids = show.library.values.to_h { |song| [song.id, adopted(song)] }
          (ids.all? { |was, is| was == is }) ? show : show.with(set_list: show.set_list.to_h { |id, one| [ids.fetch(id, id), one.with(song: ids.fetch(id, id))] }.freeze)
        end

        private

        # @return [Array<Show::Song>] in the order asked for
        def summaries(ids)
          return [] if ids.empty?

          rows = @database[:songs].where(id: ids).select(*COLUMNS).as_hash(:id)
          stems = @database[:stems].where(song_id: ids).order(:position).all.group_by { |stem| stem[:song_id] }
          ids.filter_map { |id| rows[id] }.map { |row| summary_of(row, stems.fetch(row[:id], [])) }
        end

        def summary_of(row, stems)
          peak = [row[:true_peak_dbtp], *stems.map { |stem| stem[:true_peak_dbtp] }].compact.max
          Show::Song.new(**plain_json(row.slice(*SUMMARY)), true_peak_dbtp: peak,
            stems: stems.map { |stem| Show::Stem.new(**stem.slice(:name, :role, :file, :sample_rate_hz, :frames, :channels, :sides_db, :sum_peak_dbfs)) }.freeze)
        end

        # Those that the songs use, those that the patch takes, and the click.
        def roles_of(songs, used)
          names = songs.flat_map(&:role_names) | used | [Show::CLICK_ROLE]
          known = @database[:roles].where(name: names).order(:position, :name).select(*ROLE_COLUMNS).map { |row|
            Show::Role.new(**row.except(:lanes), pair: row[:lanes] == "pair", usual: row[:usual].to_a.freeze)
          }
          known + (names - known.map(&:name)).map { |name| Show::Role.new(name: name) }
        end

        def in_order(roles)
          order = role_names
          roles.sort_by { |role| order.index(role.name) || LAST }
        end

        def adopted(song)
          there = @database[:songs].where(id: song.id).get(:title)
          return song.id if there == song.title

          id = there ? "#{song.id[0, 50]}-#{SecureRandom.hex(4)}" : song.id
          create({folder: song.id, **song.to_h.slice(*SUMMARY), id: id},
            song.stems.map { |stem| stem.to_h.slice(:name, :role, :file, :channels, :sample_rate_hz, :frames, :sides_db, :sum_peak_dbfs) })
          id
        end

        # Names that come in with a song are not settled; they say so until somebody does.
        def learn_roles(stems)
          stereo = stems.select { |stem| stem[:channels] == 2 }.map { |stem| stem[:role] }
          learn(stems.map { |stem| stem[:role] }.uniq.map { |name| {name: name, settled: false, lanes: stereo.include?(name) ? "pair" : "own"} })
        end

        def learn(roles)
          changed do
            next_at = (@database[:roles].where { position < LAST }.max(:position) || 0) + 1
            fresh = roles.reject { |role| @database[:roles].where(name: role[:name]).any? }
            fresh.each.with_index(next_at) { |role, at| @database[:roles].insert_conflict(target: :name).insert(position: at, **role) }
          end
        end

        def write(id, was, given)
          @database[:songs].where(id: id).update(version: was[:version] + 1, changed_at: Sequel::CURRENT_TIMESTAMP, **wrapped(together(was, given).slice(*EDITED)))
          summary(id).then { |song| Show::Section.all_of(song.sections) && Show::Arrangement.all_of(song.arrangements, song.sections) && song.map && song.click_style.checked(song.map) }
          check_sounds(given)
          stems = given[:stems] or return
          raise BadInput.new(field: "stems", value: stems.map { |stem| stem[:id] }.join(", "), allowed: "each stem of the song once") unless stems.map { |stem| stem[:id] }.sort == was[:stems].map { |stem| stem[:id] }.sort

          stems.each_with_index { |stem, at| @database[:stems].where(id: stem[:id], song_id: id).update(position: at, name: stem[:name], role: stem[:role]) }
          learn_roles(find(id)[:stems])
        end

        # @raise [BadInput]
        def check_sounds(given)
          click, cues = %i[click cues].map { |part| plain(given[part] || {}) }
          Show::OwnSound.check(click)
          asked = Show::OwnSound.of(click, cues)
          unknown = asked.empty? ? [] : asked - @database[:sounds].where(id: asked).select_map(:id)
          raise BadInput.new(field: "sound", value: unknown.join(", "), allowed: "a sound that was brought to the library") if unknown.any?
        end

        # A tempo map says what a list shows as well; a tempo, or beats a bar, that somebody types is the map's first.
        #
        # @raise [BadInput]
        def together(was, given)
          return given.merge(tempo: nil) if given.key?(:bpm) && given[:bpm].nil?
          return given.merge(first_of(given[:tempo])) if given[:tempo]
          return given if given.key?(:tempo) || was[:tempo].nil? || !given.keys.intersect?(%i[bpm beats_per_bar])

          tempo = plain(was[:tempo])
          tempo["tempi"][0]["bpm"] = given[:bpm] if given[:bpm]
          tempo["meters"][0]["meter"] = tempo["meters"][0]["meter"].sub(/\A\d+/, given[:beats_per_bar].to_s) if given[:beats_per_bar]
          given.merge(first_of(tempo))
        end

        def first_of(data)
          map = Music::TempoMap.from_h(plain(data))
          {tempo: map.to_data, bpm: map.tempi.first.bpm.to_f, beats_per_bar: map.meters.first.last.beats}
        end

        # Plain data, out of the database's own kind of it, and into that.
        def plain_json(row) = row.merge(row.slice(*JSON_COLUMNS).transform_values { |value| value && plain(value) }, row.slice(:spoken).transform_values(&:to_a))

        def wrapped(row)
          row.merge(row.slice(*JSON_COLUMNS).transform_values { |value| value && Sequel.pg_jsonb(plain(value)) },
            row.slice(:spoken).transform_values { |keys| Sequel.pg_array(keys, :text) })
        end

        def snapshot(song) = Sequel.pg_jsonb(song.slice(*EDITED).merge(stems: song[:stems].map { |stem| stem.slice(:id, :name, :role) }))
        def plain(json) = JSON.parse(JSON.generate(json))

        def entry(id, author, word)
          own = @database[:song_edits].where(song_id: id, client: author.client)
          (word == "undo") ? own.where(undone: false).reverse(:id).first : own.where(undone: true).order(:id).first
        end

        def others(id, author, version)
          @database[:song_edits].where(song_id: id).exclude(client: author.client).where { |edit| edit.version > version }.reverse(:id).limit(3).select(:label, :who, :undone).all
        end

        def nothing(word) = Refusal.new(field: word, value: nil, allowed: "an edit of your own to #{word}", why: "There is nothing of yours to #{word}.")

        def built_on(word, entry)
          Refusal.new(field: word, value: entry[:label], allowed: "an edit that nobody has built on since", why: "\"#{entry[:label]}\" stays: the song was changed since.")
        end

        # Shows that are held ready are read again, browsers hear of it.
        def changed
          @database.transaction do
            yield.tap do
              @database[:library].update(version: Sequel[:version] + 1)
              @changes.say("library")
            end
          end
        end
      end
    end
  end
end
