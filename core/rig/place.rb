# frozen_string_literal: true

module Loomshuttle
  module Rig
    # A place that a rig can name, with what the rig knows of it.
    Place = Struct.new(:id, :device, :family, :number) do
      def kind = family.kind
      def present? = family.present?(number)
      def field = device.field(family.name)
    end
  end
end
