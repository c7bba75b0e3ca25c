# frozen_string_literal: true

module Loomshuttle
  module Ear
    # One lane of an arrival.
    #
    # lane        from 1
    # peak_dbfs   highest sample of the first tenth of a second
    # rise_db     power of that time over the lane's own floor
    # onset_frame device frame of its first sample here
    # clipped     three samples in a row at full scale
    # like        Likeness to the lane where it came in; that of the first lane to itself is 1
    Heard = Value.of(:lane, :peak_dbfs, :rise_db, :onset_frame, :clipped, :like)
  end
end
