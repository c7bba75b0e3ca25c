# frozen_string_literal: true

# The web server's part: server/config.ru loads it.
require_relative "paper"
require_relative "runtime"
require_relative "files"
require_relative "cluster"
require_relative "secrets"
require_relative "front_door"
require "cgi"
require "sequel"

module Loomshuttle
  module Server
    # The one place where the server's parts are put together.
    module Assembly
      module_function

      # @return [Exchange::ShowFile]
      def codec = Shelf.show_file

      # @param environment [Hash{String => String}] see boot/services.rb
      # @return [#call] a Rack application with everything behind it running
      def app(environment = ENV, clock: -> { Time.now })
        data = environment.fetch("LOOMSHUTTLE_DATA")
        folder = File.join(data, "takes")
        database = Store::Database.connect(environment.fetch("DATABASE_URL"), keep: File.join(data, "backups"))
        changes = Changes.new(database)
        stores = stores(database, changes)
        kept_address = Store::DeskAddress.new(database, changes, Links::DeskAddress.loopback(Integer(environment.fetch("LOOMSHUTTLE_OSC_PORT"))))
        lines = lines(data, environment, kept_address.now)
        known = {kept_address: kept_address, hub: Hub.new, clock: clock, running: RunningTake.new(lines[:engine], stores[:on_air])}
        known[:entrance] = Entrance.new(FrontDoor.wish(data), trouble: FrontDoor.trouble(data),
          port: environment["LOOMSHUTTLE_DOOR_PORT"].to_i)
        devices = Store::Devices.new(database, changes, key: Secrets.door(data).key, clock: clock)
        desk = desk(database, lines, stores, known)
        workspaces = Workspaces.new(**stores.slice(:shows, :takes, :linechecks, :soundchecks), running: known[:running], desk: desk,
          disk: -> { Runtime::Disk.free_bytes(folder) }, stems: StemFiles.new(File.join(data, "songs"), stores[:songs]))
        keeper = keeper(folder, stores, lines, workspaces, clock)
        sources = SourceFolders.new(more: environment.fetch("LOOMSHUTTLE_SOURCES", "").split(":"))
        parts = {**stores, **lines, **known, devices: devices, workspaces: workspaces, keeper: keeper, desk: desk, folders: sources, takes_folder: folder, data_folder: data}
        changes.on("devices") { |said| known[:hub].dismiss(said[:id]) }
        told(changes, parts)
        parts[:wishes] = SongWishes.new(stores[:songs])
        set = SetFollower.new(lines[:deck], leads: -> { desk.leads? }, **parts.slice(:wishes, :workspaces, :on_air)).start
        changes.on("show", "library", "on_air", Changes::MISSED) { set.nudge }
        SongMarks.new(leads: -> { desk.leads? }, **parts.slice(:engine, :deck, :workspaces, :on_air)).start
        live(lines, parts)
        parts.merge!(check_lines: Actions::CheckLines.new(**parts.slice(:linechecks, :workspaces, :on_air, :clock)))
        parts[:ears] = LineListener.new(parts[:ear], check: parts[:check_lines], **parts.slice(:linechecks, :on_air, :shows)).start
        made = actions(parts)
        run_stage = Actions::RunStage.new(play: made[:play], **parts.slice(:deck, :workspaces, :on_air, :presses))
        parts[:osc] = StageOsc.new(stores[:stage_osc], run_stage, leads: -> { desk.leads? }).start
        changes.on("stage_osc", Changes::MISSED) { parts[:osc].retune }
        behind_the_door(App.new(**parts, **made), data, parts[:devices])
      end

      # Who it is, then whether he may and what he asks for, then what is done.
      def behind_the_door(app, data, devices)
        contract = Contract.new(app, File.join(ROOT, "api/openapi.yaml"))
        Door.new(Guesses.slowed(contract), devices: devices, word: Secrets.door(data).word)
      end

      # @return [Hash{Symbol => Object}]
      def stores(database, changes)
        songs = Store::Songs.new(database, changes)
        {songs: songs, sounds: Store::Sounds.new(database, changes), shows: Store::Shows.new(database, codec, changes, songs),
         shelf: Store::Shelf.new(database, changes), history: Store::History.new(database),
         presses: Store::Presses.new(database), stage_osc: Store::StageOsc.new(database, changes),
         templates: Store::Templates.new(database, codec), takes: Store::Takes.new(database, changes), alarms: Store::Alarms.new(database, changes),
         on_air: Store::OnAir.new(database, changes), tasks: Store::Tasks.new(database, changes), imports: Store::Imports.new(database, changes),
         linechecks: Store::Beside.new(database, changes, table: :linechecks, topic: "linecheck", state: Loomshuttle::Linecheck::State),
         soundchecks: Store::Beside.new(database, changes, table: :soundchecks, topic: "soundcheck", state: Soundcheck::State),
         lineups: Store::Beside.new(database, changes, table: :lineups, topic: "lineup", state: Loomshuttle::Lineup::State)}
      end

      def lines(data, environment, desk_address)
        {engine: Links::ControlLink.new(File.join(data, "run/engine.sock"), who: "the audio engine"),
         deck: Links::ControlLink.new(File.join(data, "run/deck.sock"), who: "the deck"),
         ear: Links::ControlLink.new(File.join(data, "run/ear.sock"), who: "the ear"),
         desk_link: Links::DeskLink.new(desk_address),
         search: Links::DeskSearch.new(network: environment.fetch("LOOMSHUTTLE_DESK_NETWORK", Runtime::SearchGroup::LOOPBACK))}
      end

      def desk(database, lines, stores, known)
        lead = nil
        leads = -> { lead&.mine? }
        follower = DeskFollower.new(lines[:desk_link], leads: leads, **stores.slice(:shows, :on_air), running: known[:running]) { |event, data| known[:hub].publish(event, data) }
        lead = Store::Lead.new(database) { follower.nudge }
        follower.start
      end

      def keeper(folder, stores, lines, workspaces, clock)
        armed = -> { stores[:on_air].show_id&.then { |id| workspaces[id].then { |one| one.session.tracks(one.show).select(&:armed).map(&:key) } } || [] }
        TakesKeeper.new(folder, takes: stores[:takes], alarms: stores[:alarms], engine: lines[:engine], show_of: stores[:shows].method(:of_take), clock: clock, armed: armed)
      end

      # What was kept goes to whoever hangs on it, and then to the browsers.
      def told(changes, parts)
        watch = FindingsWatch.new(parts[:workspaces], parts[:shelf]) { |id, found| parts[:hub].publish("findings", {show: id, **found}) }
        changes.on("takes") { |told| parts[:workspaces].forget(told[:show]) }
        changes.on("linecheck", "soundcheck") { |told| parts[:workspaces].forget(told[:show]) }
        changes.on("session") { |told| parts[:workspaces].forget(told[:id]) }
        changes.on(Changes::MISSED) { parts[:workspaces].forget }
        # Another server process may have been told of another desk.
        changes.on("desk_address", Changes::MISSED) { aim(parts) }
        changes.on("show", "on_air", Changes::MISSED) { parts[:desk].nudge }
        changes.on("show", "shows", "on_air", "takes", "session", "alarms", "tasks", "library", "linecheck", "soundcheck", "lineup", Changes::MISSED) { |told, topic| parts[:hub].publish(topic, told) }
        changes.on("show", "takes", "session", "on_air", "library", "linecheck", "soundcheck", Changes::MISSED) { watch.nudge }
        parts[:desk].on_change { watch.nudge }
        changes.listen
        watch.start
      end

      def aim(parts)
        return unless parts[:desk_link].aim(parts[:kept_address].now)

        parts[:desk].other_desk
        parts[:hub].publish("desk", {known: true})
      end

      def live(lines, parts)
        feed = LiveFeed.new(parts[:hub], engine: lines[:engine], deck: lines[:deck], desk: lines[:desk_link])
        lines[:engine].on_frame do
          feed.publish
          parts[:desk].take_over if lines[:engine].answers? && lines[:engine].last("status")["recording"].nil?
        end
        alarms = DeckAlarms.new(lines[:deck], parts[:alarms])
        lines[:deck].on_frame do
          feed.publish unless lines[:engine].answers?
          alarms.look
        end
      end

      def actions(parts)
        capture = Actions::Capture.new(**parts.slice(:workspaces, :takes, :engine, :keeper, :on_air, :running, :clock))
        landing = Actions::Landing.new(show_file: codec, **parts.slice(:imports, :tasks, :folders, :data_folder))
        edit = Actions::EditShow.new(capture: capture, **parts.slice(:shows, :songs, :history, :running))
        {capture: capture, edit: edit,
         play: Actions::Play.new(capture: capture, **parts.slice(:workspaces, :takes, :wishes, :deck, :keeper, :on_air, :running)),
         landing: landing, import: Actions::Import.new(landing: landing, **parts.slice(:workspaces, :imports, :tasks, :soundchecks)),
         make_song: Actions::MakeSong.new(landing: landing, room_bytes: -> {
           Runtime::Disk.free_bytes(parts[:data_folder])
         }, **parts.slice(:songs, :imports, :tasks, :data_folder)),
         aim_desk: Actions::AimDesk.new(**parts.slice(:kept_address, :search, :desk_link, :on_air, :shows, :history, :running)),
         put_on_air: Actions::PutOnAir.new(edit: edit, **parts.slice(:shows, :history, :on_air, :running, :desk, :engine)),
         keep_shows: keep_shows(parts, landing),
         verify: Actions::Verify.new(**parts.slice(:takes, :takes_folder)),
         overview: Actions::Overview.new(**parts.slice(:takes, :keeper, :takes_folder)),
         ping: Actions::Ping.new(**parts.slice(:soundchecks, :workspaces, :on_air, :running, :deck, :ear, :desk_link, :clock)),
         song_picture: Actions::SongPicture.new(**parts.slice(:songs, :data_folder)), bring_sound: Actions::BringSound.new(**parts.slice(:sounds, :data_folder)),
         line_up: Actions::LineUp.new(sounds: LineUpSounds.new(parts[:data_folder]), **parts.slice(:lineups, :workspaces, :on_air, :running, :deck)),
         controls: Actions::Controls.new(**parts.slice(:desk_link, :on_air, :workspaces)),
         simulate: Actions::Simulate.new(**parts.slice(:desk_link, :on_air, :workspaces)),
         listen: Actions::Listen.new(**parts.slice(:takes, :takes_folder))}
      end

      # Once an hour the bin is looked through, and what was left lying of imports.
      def keep_shows(parts, landing)
        Actions::KeepShows.new(codec: codec, **parts.slice(:shows, :shelf, :templates, :takes, :on_air, :takes_folder)).tap do |shows|
          Runtime::Loop.start("bin", pause_s: 3600, retry_s: 60) { [shows, landing].each(&:sweep) }
        end
      end
      private_class_method :behind_the_door, :lines, :desk, :keeper, :told, :aim, :live, :actions, :keep_shows
    end
  end
  load_part("server", Server)
end
