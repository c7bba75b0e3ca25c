# frozen_string_literal: true

# The product's reading of random shows against a second, plain one (spec/support/plain_model.rb):
#
#   bundle exec ruby bench/models.rb [shows] [first seed] [places walked from a show]
require_relative "../boot/core"
require_relative "../spec/support/agreement"

count, first, places = (ARGV[0] || 300).to_i, (ARGV[1] || 1).to_i, (ARGV[2] || 200).to_i
faults = (first...(first + count)).flat_map { |seed| Agreement.faults(seed, places: places).map { |fault| [seed, fault] } }
faults.group_by { |_, fault| fault[/\A\D+/] }.sort_by { |_, some| -some.size }.each { |what, some| puts "#{what}: #{some.size}, e.g. seed #{some.first.first}: #{some.first.last[0, 400]}" }
puts "#{count} shows, #{places} places each, #{faults.size} differences"
exit(faults.empty? ? 0 : 1)
