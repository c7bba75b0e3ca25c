# frozen_string_literal: true

# What must hold of the findings of any show, over many random ones:
#
#   bundle exec ruby bench/checks.rb [shows] [first seed]
require_relative "../boot/core"
require_relative "../demo/lanterns"
require_relative "../spec/support/sound_findings"

count, first = (ARGV[0] || 1000).to_i, (ARGV[1] || 1).to_i
faults = (first...(first + count)).flat_map { |seed| SoundFindings.faults(seed).map { |fault| [seed, fault] } }
faults.group_by { |_, fault| fault.split(":").first }.sort_by { |_, some| -some.size }.each { |rule, some| puts "#{rule}: #{some.size}, e.g. seed #{some.first.first}: #{some.first.last[0, 300]}" }
puts "#{count} shows, #{faults.size} faults"
exit(faults.empty? ? 0 : 1)
