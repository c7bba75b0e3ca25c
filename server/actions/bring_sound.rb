# frozen_string_literal: true

require "digest"
require "tmpdir"

module Loomshuttle
  module Server
    module Actions
      # A sound of somebody's own for clicks and cues: short, so it is made ready while he waits.
      class BringSound
        # @param sounds [Store::Sounds]
        # @param data_folder [String]
        def initialize(sounds:, data_folder:)
          @sounds, @data_folder = sounds, data_folder
        end

        # @param name [String] a file's
        # @param bytes [String]
        # @return [Hash] id, name, length_ms, songs
        # @raise [BadInput] for what is no such sound; nothing stays of it then
        def bring(name, bytes)
          id = Digest::SHA256.hexdigest(bytes)[0, 16]
          there(id) || made(id, name, bytes).then { |length_s| @sounds.keep(id, File.basename(name, ".*").strip[0, 100], (length_s * 1000).ceil) }
          there(id)
        end

        # @raise [BadInput]
        def take_out(id)
          @sounds.remove(id)
          FileUtils.rm_rf(folder(id))
        end

        private

        # Of one whose files went, nothing is there.
        def there(id) = File.directory?(folder(id)) ? @sounds.list.find { |sound| sound[:id] == id } : nil
        def folder(id) = File.join(@data_folder, "songs", Show::OwnSound::FOLDER, id)

        # Out of sight until all of it is there.
        def made(id, name, bytes)
          FileUtils.mkdir_p(File.dirname(folder(id)), mode: 0o700)
          Dir.mktmpdir(".making-", File.dirname(folder(id))) do |draft|
            upload, ready = File.join(draft, "upload"), File.join(draft, "ready")
            File.binwrite(upload, bytes)
            Dir.mkdir(ready, 0o700)
            Files::BroughtSound.write(upload, ready, title: name) { |*command| Files::Speech.run(*command) }.tap { put(ready, folder(id)) }
          end
        end

        # The same bytes make the same files, whoever brought them first.
        def put(ready, folder)
          FileUtils.rm_rf(folder)
          File.rename(ready, folder)
        rescue Errno::ENOTEMPTY, Errno::EEXIST
          nil
        end
      end
    end
  end
end
