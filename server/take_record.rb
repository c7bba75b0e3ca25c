# frozen_string_literal: true

module Loomshuttle
  module Server
    # What a take's journal says, as rows of the database. Frames are the take's own here: its
    # first one is 0.
    module TakeRecord
      module_function

      # @param log [Capture::TakeLog]
      # @return [Hash] a row of `takes`
      def take(folder, log, show_id)
        plan = log.plan
        {uid: plan.uid, show_id: show_id, number: plan.number, folder: folder, name: log.name.to_s.empty? ? "Take #{plan.number}" : log.name, notes: log.notes.to_s,
         origin: "recorded", sample_rate_hz: plan.sample_rate_hz, frames: log.frames, state: log.state, reason: log.reason, encoding: plan.encoding,
         over: plan.over, bytes: bytes(log), copy: plan.copy && "#{plan.copy}/loomshuttle-takes/#{folder}", started_at: log.started_at, lost_frames: log.lost_frames, log: Sequel.pg_jsonb(moments(log))}
      end

      # What its samples weigh on the disk.
      def bytes(log)
        lanes = log.plan.tracks.to_h { |track| [track.key, track.lanes.size] }
        log.stretches.sum { |stretch| stretch.frames * lanes.fetch(stretch.track, 0) } * log.plan.sample_bytes
      end

      # @return [Array<Hash>] rows of `take_files`: one a channel of a stretch
      def files(log)
        tracks = log.plan.tracks.to_h { |track| [track.key, track] }
        log.stretches.flat_map do |stretch|
          track = tracks[stretch.track] or next []
          sides(track, log).map.with_index { |side, channel| file(log, stretch, side, channel) }
        end
      end

      def sides(track, log)
        sides = track.sides.empty? ? [{track: track.key, name: track.name}] : track.sides
        (sides.size == 1) ? [sides.first.merge(name: log.names.fetch(track.key, sides.first[:name]))] : sides
      end

      def file(log, stretch, side, channel)
        {track: side[:track], name: side[:name], file: stretch.file, channel: channel + 1, part: stretch.part, at_frames: [stretch.from_frame - log.start_frame, 0].max,
         frames: stretch.frames, was: side.slice(*Loomshuttle::Capture::Origin::FIELDS),
         report: {peak_dbfs: stretch.peaks_dbfs&.at(channel), clips: stretch.clips&.at(channel), silence_s: stretch.silence_s&.at(channel), crc32: stretch.crc32}.compact}
      end

      def moments(log)
        own = ->(list) { list.map { |one| one.merge(frame: one[:frame].to_i - log.start_frame) } }
        {marks: own[log.marks], breaks: own[log.breaks], losses: own[log.losses], patches: own[log.patches], faults: log.faults, names: log.names, files: log.stretches.map(&:file)}
      end
      private_class_method :bytes, :sides, :file, :moments
    end
  end
end
