# frozen_string_literal: true

module Loomshuttle
  module Signal
    # What the desk's channels listen to.
    module Feed
      # Kinds of gear that play what is on disk.
      PLAYERS = %w[computer player].freeze
      private_constant :PLAYERS

      module_function

      # A line that ends at the recorder's side without a track, or in an empty second slot, is
      # heard as nothing; an empty socket is the stage's.
      #
      # @return [Symbol] :stage, :recorder, :playback (a role of a song) or :nothing
      def of(show, channel_id)
        origin, track = Sources.behind(show, channel_id)
        return :recorder if track
        return :playback if origin.start_with?("songs/")
        return :stage if show.rows.key?(origin)

        (origin == channel_id || played?(show, origin)) ? :nothing : :stage
      end

      # Whether any slot takes a lane that comes back, or a channel is switched over: without one no
      # channel listens to a recorder, which is asked after every edit.
      def returning?(show)
        show.once(:returning?) do
          lanes = show.rig.once(:card_returns) { show.rig.places.keys.select { |id| id.include?("/card-return/") } }
          show.turned_channels.any? || lanes.any? { |lane| show.laid.from.key?(lane) }
        end
      end

      # Whether something sounds there: a source of the list, a role, or what is on disk.
      def live?(show, channel_id)
        origin, track = Sources.behind(show, channel_id)
        !track.nil? || show.rows.key?(origin) || origin.start_with?("songs/")
      end

      # Feeds of the channels that a source of the input list arrives at, now or before a
      # swing.
      #
      # @param desk [String, nil] one desk's only
      # @return [Hash{String => Symbol}]
      def of_channels(show, desk = nil)
        feeds = show.once(:feeds) { Sources.channels(show).to_h { |channel, _| [channel, of(show, channel)] }.freeze }
        desk ? feeds.select { |channel, _| channel.start_with?("#{desk}/") } : feeds
      end

      # The feed of a desk as a whole, or of all, as the strip shows it: Recorder as soon as one
      # channel listens to it, so that nobody can miss it.
      #
      # @return [Symbol] :stage or :recorder
      def of_desk(show, desk = nil) = of_channels(show, desk).value?(:recorder) ? :recorder : :stage

      # A lane that comes back from a player, or the second slot of a channel.
      def played?(show, place_id)
        place = show.rig.place(place_id) or return false
        profile = place.device.profile
        PLAYERS.include?(profile.kind) || place.family.name == profile.second || place.family.name == "card-return"
      end
      private_class_method :played?
    end
  end
end
