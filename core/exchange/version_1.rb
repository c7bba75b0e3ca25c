# frozen_string_literal: true

module Loomshuttle
  module Exchange
    # Show files, documents and edits as version 1 wrote them, brought to version 2. There a row's
    # id was its number and a track's was its place: both stay what they are as ids, and the
    # number and place stand beside them.
    module Version1
      module_function

      # @param data [Hash] a show file of version 1, valid, string keys
      # @return [Hash] of version 2
      def document(data)
        rows = data.fetch("rows", []).map { |row| row(row) }
        tracks = data.fetch("tracks", []).map { |track| track(track) }
        data.except("check").merge("version" => 2, "rows" => rows, "tracks" => tracks, "swung" => data.fetch("check", {}))
      end

      # @param data [Hash] an edit as plain data
      # @return [Hash] the same edit; one that is of version 2 already stays as it is
      def edit(data)
        case data["kind"]
        when "group" then data.merge("edits" => data["edits"].map { |one| edit(one) })
        when "put" then data.merge("parts" => parts(data["parts"]), "order" => data.fetch("order", {}).transform_values { |keys| moves(keys) })
        else data
        end
      end

      def parts(parts)
        parts.to_h { |name, values| [(name == "check") ? "swung" : name, values] }.to_h do |name, values|
          made = {"rows" => :row, "tracks" => :track}[name]
          [name, made ? values.transform_values { |value| value && send(made, value) } : values]
        end
      end

      def row(row) = {"number" => row["id"].split("/").last.to_i, **row}
      def track(track) = {"place" => track["id"], **track}

      # Version 1 wrote the whole order.
      def moves(keys) = keys.first.is_a?(String) ? keys.zip([nil, *keys]).first(keys.size) : keys
      private_class_method :parts, :row, :track, :moves
    end
  end
end
