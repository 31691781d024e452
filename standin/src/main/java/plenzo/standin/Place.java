package plenzo.standin;

import com.sun.net.httpserver.HttpExchange;
import java.io.IOException;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import plenzo.hostprotocol.HostProtocol;
import plenzo.hostprotocol.HostProtocol.Outcome;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Definitions with their runs: those of the host, or of a place of its own. */
final class Place {
  private static final JsonMapper JSON = new JsonMapper();

  /** Release of this software, as it tells it. */
  private static final String RELEASE = "2.1.0";

  private final StateFile file;
  private final Runs runs;
  private final Quote quote;
  private final Simulation simulation;

  Place(StateFile file, Quote quote, Simulation simulation) {
    this.file = file;
    this.runs = new Runs(file, Clock.systemUTC());
    this.quote = quote;
    this.simulation = simulation;
  }

  Object answer(HttpExchange call, String[] parts) throws IOException {
    String act = call.getRequestMethod() + " " + parts[0];
    return switch (act) {
      case "GET identity" ->
          new HostProtocol.Identity(
              HostProtocol.VERSION,
              "Morrowick host",
              file.now().instance(),
              file.now().marker(),
              RELEASE,
              simulation.refreshes(),
              simulation.spaces());
      case "PUT marker" -> mark(Calls.body(call, HostProtocol.Marker.class));
      case "GET inventory" -> inventory(Calls.query(call, "scope"));
      case "GET components" -> document(parts);
      case "PUT activation" -> activation(Calls.body(call, HostProtocol.Activation.class));
      case "POST probe" ->
          new HostProtocol.Answer(
              quote.answer(Calls.body(call, HostProtocol.Probe.class).question()));
      case "GET runs" -> runs.ran(limit(call));
      case "GET prepared" -> runs.prepared();
      case "PUT runs", "POST runs", "DELETE runs" -> run(call, parts);
      default -> throw new Trouble(404, "NOT_FOUND", "There is no " + act);
    };
  }

  private Object run(HttpExchange call, String[] parts) throws IOException {
    if (parts.length != 3) {
      throw new Trouble(404, "NOT_FOUND", "A run's calls are runs/NUMBER/WHAT");
    }
    long number = Long.parseLong(parts[1]);
    return switch (call.getRequestMethod() + " " + parts[2]) {
      case "PUT prepared" -> runs.prepare(number, Calls.body(call, HostProtocol.Prepare.class));
      case "DELETE prepared" -> runs.discard(number);
      case "POST switch" -> runs.switchOver(number, Calls.body(call, HostProtocol.Switch.class));
      case "POST void" -> runs.makeVoid(number);
      case "POST undo" -> runs.undo(number);
      default -> throw new Trouble(404, "NOT_FOUND", "A run has no " + parts[2]);
    };
  }

  private static int limit(HttpExchange call) {
    int limit = Integer.parseInt(Calls.query(call, "limit"));
    if (limit < 1 || limit > 1000) {
      throw new Trouble(422, "LIMIT", "A limit is 1 to 1000; got " + limit);
    }
    return limit;
  }

  private Outcome mark(HostProtocol.Marker marker) {
    Outcome[] out = {Outcome.of("applied")};
    file.change(
        state -> {
          HostProtocol.Marker old = state.marker();
          if (old != null
              && !(old.service().equals(marker.service())
                  && old.stage().equals(marker.stage())
                  && old.site().equals(marker.site()))) {
            out[0] = Outcome.refused("other", List.of(old.stage() + "/" + old.site()));
            return state;
          }
          return old != null ? state : state.withMarker(marker);
        });
    return out[0];
  }

  private HostProtocol.Inventory inventory(String scope) {
    State state = file.now();
    List<HostProtocol.Component> out = new ArrayList<>();
    state
        .definitions()
        .forEach(
            (key, held) -> {
              int slash = key.indexOf('/');
              String name = key.substring(slash + 1);
              if (scope.isEmpty() || name.startsWith(scope + ".")) {
                out.add(
                    new HostProtocol.Component(
                        key.substring(0, slash),
                        name,
                        held.revision(),
                        held.active(),
                        unbound(state, held),
                        visible(key, held),
                        held.by(),
                        held.at()));
              }
            });
    return new HostProtocol.Inventory(out);
  }

  /** A form that says it is hidden stands in no menu; only forms are seen at all. */
  private static @Nullable Boolean visible(String key, State.Held held) {
    return key.startsWith("form/")
        ? !JSON.readTree(held.text()).path("definition").path("hidden").asBoolean(false)
        : null;
  }

  private static List<String> unbound(State state, State.Held held) {
    List<String> out = new ArrayList<>();
    for (JsonNode input : JSON.readTree(held.text()).path("inputs")) {
      String name = input.path("name").asString("");
      if (!state.inputs().containsKey(name)) {
        out.add(name);
      }
    }
    return out;
  }

  private HostProtocol.Document document(String[] parts) {
    if (parts.length != 3) {
      throw new Trouble(404, "NOT_FOUND", "A component is components/KIND/NAME");
    }
    State.Held held = file.now().definitions().get(parts[1] + "/" + parts[2]);
    if (held == null) {
      throw new Trouble(404, "NOT_FOUND", "There is no " + parts[1] + "/" + parts[2]);
    }
    return new HostProtocol.Document(parts[1], parts[2], held.revision(), held.text());
  }

  private HostProtocol.Activation activation(HostProtocol.Activation asked) {
    String key = asked.kind() + "/" + asked.name();
    file.change(
        state -> {
          State.Held held = state.definitions().get(key);
          if (held == null) {
            throw new Trouble(404, "NOT_FOUND", "There is no " + key);
          }
          Map<String, State.Held> next = new TreeMap<>(state.definitions());
          next.put(
              key,
              new State.Held(held.revision(), held.text(), asked.active(), held.by(), held.at()));
          return state.with(next, state.inputs(), state.nextRevision());
        });
    return asked;
  }
}
