# frozen_string_literal: true

module Loomshuttle
  module Rig
    # The patch slots of one family on one device, and what each may take.
    #
    # block  how many neighbouring slots are patched together (1: every slot chooses)
    # opens  whether a block can be opened to single choices
    # takes  names of families, or "*" for whatever is plugged in by a single cable
    Field = Value.of(:family, :block, :opens, :takes, :delay_max_ms) do
      def blocks? = block > 1

      # @return [Range<Integer>] the slots patched together with this one
      def block_of(number)
        first = ((number - 1) / block) * block + 1
        first..(first + block - 1)
      end

      def takes?(family_name) = takes.include?(family_name)
    end
  end
end
