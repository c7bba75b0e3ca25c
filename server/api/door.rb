# frozen_string_literal: true

module Loomshuttle
  module Server
    module Api
      # Who is let in: the code that a device enters, and the devices that have entered one.
      module Door
        # As long as a band's season; a device that is not wanted any more is taken out.
        COOKIE_S = 400 * 24 * 3600
        private_constant :COOKIE_S

        def self.registered(app)
          app.get("/api/door") { json visitor: env[Visitor::KEY]&.then { |one| {name: one.name, may: one.may, device: one.device} } }
          app.post("/api/door") { enter(*devices.let_in(given["code"], given["name"].strip)) }
          app.get("/api/door/way") { json entrance.now }
          app.put("/api/door/way") { json entrance.open(given["addresses"]) }
          app.get("/api/door/way/:address/:what.svg") { content_type("image/svg+xml") && entrance.qr(params["address"], certificate: params["what"] == "certificate") }
          app.post("/api/door/codes") { json devices.invite(given["may"]) }
          app.get("/api/door/devices") { json devices.list }
          app.put("/api/door/devices/:id") { devices.change(params["id"].to_i, given.slice("name", "may").transform_keys(&:to_sym)) && json(devices.list) }
          app.delete("/api/door/devices/:id") { devices.take_out(params["id"].to_i) && json(devices.list) }
          app.helpers Helpers
        end

        # What only these routes need.
        module Helpers
          def enter(token, visitor)
            response.set_cookie(Server::Door::COOKIE, value: token, path: "/", httponly: true, secure: true, same_site: :strict, max_age: COOKIE_S)
            json visitor: {name: visitor.name, may: visitor.may, device: visitor.device}
          end
        end
      end
    end
  end
end
