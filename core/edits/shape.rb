# frozen_string_literal: true

module Loomshuttle
  module Edits
    # What each kind of edit is made of, checked once where edits come in as data, before any
    # of them is built: past this point every field has the type that it is used as.
    #
    #   Shape.check("shift", {"slots" => "x"})
    #     # raises BadInput: edit.slots: "x" is not usable; shift takes a list of ids there
    module Shape
      ID_LENGTH_MAX = 200
      # Far beyond any number, level, time or length that an edit names.
      NUMBER_MAX = 1_000_000

      ID = ->(value) { value.is_a?(String) && value.size.between?(1, ID_LENGTH_MAX) }
      NUMBER = ->(value) { value.is_a?(Numeric) && value.abs <= NUMBER_MAX }
      # What a slot is to take; nil frees it. What is left out stays as it is.
      TAKE = lambda do |value|
        value.nil? || (value.is_a?(Hash) && [value["from"], value["tap"]].all? { |text| text.nil? || ID[text] } &&
          (value["delay_ms"].nil? || NUMBER[value["delay_ms"]]))
      end
      ACCEPTANCE = lambda do |value|
        value.is_a?(Hash) && (%w[who at digest] - value.keys).empty? && (value.keys - %w[who at digest reason]).empty? &&
          value.values.all? { |text| text.nil? || text.is_a?(String) }
      end
      # What a slot took, whole.
      KEPT = ->(value) { TAKE[value] && (value.nil? || ID[value["from"]]) }
      SEND = ->(value) { value.is_a?(Hash) && (value["tap"].nil? || ID[value["tap"]]) && (value["level_db"].nil? || NUMBER[value["level_db"]]) }
      LIST = ->(value) { value.is_a?(Array) && value.all? { |item| ID[item] } }
      MAP = ->(item) { ->(value) { value.is_a?(Hash) && value.all? { |key, one| ID[key] && item[one] } } }
      PATCH = {"slots" => MAP[->(take) { !take.nil? && KEPT[take] }],
               "plugs" => MAP[ID],
               "sends" => MAP[MAP[SEND]],
               "opened" => LIST,
               "splits" => LIST,
               "turned" => LIST,
               "powered" => LIST}.freeze

      # type => [what it is in words, how it is known]
      TYPES = {
        id: ["an id", ID],
        ids: ["a list of ids", LIST],
        text: ["a text", ->(value) { value.is_a?(String) }],
        flag: ["true or false", ->(value) { [true, false].include?(value) }],
        number: ["a number", NUMBER],
        whole: ["a whole number", ->(value) { value.is_a?(Integer) && value.abs <= NUMBER_MAX }],
        takes: ["an object of slots to {from, tap, delay_ms} or null", MAP[TAKE]],
        kept: ["an object of slots to {from, tap, delay_ms} or null, each with a from", MAP[KEPT]],
        cells: ["an object of rows to their columns, or null", MAP[->(value) { value.nil? || value.is_a?(Hash) }]],
        words: ["an object of names to texts", MAP[ID]],
        numbers: ["an object of names to whole numbers", MAP[->(value) { value.is_a?(Integer) }]],
        object: ["an object", ->(value) { value.is_a?(Hash) }],
        acceptance: ["an object of who, at, digest, reason", ACCEPTANCE],
        scene: ["a scene's name or a patch", ->(value) { value.is_a?(String) || (value.is_a?(Hash) && value.all? { |part, given| PATCH.key?(part) && PATCH[part][given] }) }],
        edits: ["a list of edits", ->(value) { value.is_a?(Array) && value.all? { |edit| edit.is_a?(Hash) } }]
      }.freeze

      # kind => {field => type}; a field that ends in "?" may be left out or null.
      FIELDS = {
        "connect" => {slot: :id, from: :id, tap?: :id, delay_ms?: :number},
        "clear" => {slot: :id},
        "run" => {slot: :id, from: :id, count: :whole},
        "open_block" => {slot: :id, open?: :flag},
        "restore" => {slots: :kept},
        "plug" => {row: :id, socket?: :id},
        "send" => {channel: :id, mix: :id, on?: :flag, tap?: :id, level_db?: :number},
        "split" => {socket: :id, wanted?: :flag},
        "arm" => {tracks: :ids, armed: :flag},
        "rename" => {id: :id, name: :text},
        "device_rate" => {device: :id, rate_hz: :whole},
        "accept" => {key: :text, acceptance?: :acceptance},
        "remember" => {home?: :kept, opened?: :ids, keep?: :ids, turned?: :ids},
        "group" => {edits: :edits},
        "put" => {parts: :object, order?: :object},
        "device" => {id: :id, name?: :text, profile?: :id, clock?: :id, rate_hz?: :whole, modes?: :words, settings?: :numbers},
        "remove_device" => {id: :id},
        "cable" => {a: :id, b: :id, cable_kind?: :text, length_m?: :number, offset_a_to_b?: :whole, offset_b_to_a?: :whole, lanes?: :whole},
        "remove_cable" => {a: :id, b: :id},
        "profile" => {name: :id, data?: :object},
        "show_rate" => {rate_hz: :whole},
        "turn" => {places: :ids, over?: :flag},
        "power" => {sockets: :ids, on?: :flag},
        "rows" => {rows: :cells},
        "move_rows" => {rows: :ids, to: :whole, follow?: :flag},
        "shift" => {slots: :ids, by: :whole},
        "reverse" => {slots: :ids},
        "swap" => {one: :id, other: :id},
        "copy_layout" => {from_field: :id, to_field: :id},
        "spread" => {rows: :ids, boxes: :ids},
        "retake" => {slots: :ids, tap?: :id, delay_ms?: :number},
        "scene" => {name: :text, remove?: :flag},
        "recall" => {scene: :scene, fields?: :ids},
        "land" => {mix: :id, sockets?: :ids},
        "lay" => {takes: :takes},
        "record_taps" => {desk: :id, purpose: :id},
        "make_tracks" => {computer: :id},
        "record_mix" => {desk: :id, computer: :id}
      }.transform_values { |fields| fields.to_h { |name, type| [name.to_s.delete_suffix("?"), [type, name.end_with?("?")]] }.freeze }.freeze
      private_constant :ID, :NUMBER, :TAKE, :KEPT, :SEND, :LIST, :MAP, :PATCH, :TYPES, :FIELDS

      module_function

      # @param hash [Hash] string keys
      # @raise [BadInput] naming the first field that is missing or of another type
      def check(kind, hash)
        FIELDS.fetch(kind).each do |name, (type, optional)|
          value = hash[name]
          next if value.nil? && optional && !(type == :flag && hash.key?(name))

          words, known = TYPES.fetch(type)
          unless known[value]
            raise BadInput.new(field: "edit.#{name}",
              value: value,
              allowed: value.nil? ? "#{kind} needs it: #{words}" : "#{kind} takes #{words} there")
          end
        end
      end
    end
  end
end
