# frozen_string_literal: true

# Keeps the libraries' compiled code in tmp/: half of a program's start went into reading the same text anew. Where
# nothing can be written it is read as ever.
cache = File.expand_path("../tmp", __dir__)
if File.writable?(File.exist?(cache) ? cache : File.dirname(cache))
  require "bootsnap"
  Bootsnap.setup(cache_dir: cache, load_path_cache: true, compile_cache_iseq: true, compile_cache_yaml: false)
end
