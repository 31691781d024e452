package plenzo.standin;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.io.InputStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.time.Clock;
import java.time.Instant;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import org.jspecify.annotations.Nullable;
import plenzo.hostprotocol.HostProtocol;
import plenzo.hostprotocol.HostProtocol.Outcome;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Serves the host protocol, the people who ask for quotes, and the simulation. */
final class Host implements AutoCloseable {
  private static final JsonMapper JSON = new JsonMapper();

  /** Release of this software, as it tells it. */
  private static final String RELEASE = "2.1.0";

  /** Longest body: 64 MiB, as the protocol says. */
  private static final int LONGEST = 64 << 20;

  private final HttpServer server;
  private final ExecutorService threads = Executors.newCachedThreadPool();
  private final StateFile file;
  private final Runs runs;
  private final Quote quote;
  private final Simulation simulation = new Simulation();
  private final byte[] token;
  private final boolean simulates;

  Host(Path folder, int port, String token, Quote.Database database, boolean simulates)
      throws IOException {
    this.file = new StateFile(folder);
    this.runs = new Runs(file, Clock.systemUTC());
    this.quote = new Quote(file, database);
    this.token = ("Bearer " + token).getBytes(StandardCharsets.UTF_8);
    this.simulates = simulates;
    server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), port), 50);
    server.createContext("/", this::serve);
    server.setExecutor(threads);
    server.start();
  }

  int port() {
    return server.getAddress().getPort();
  }

  /** A call that cannot be served, with its status. */
  private static final class Trouble extends RuntimeException {
    private final int status;
    private final String code;

    Trouble(int status, String code, String message) {
      super(message);
      this.status = status;
      this.code = code;
    }
  }

  private void serve(HttpExchange call) throws IOException {
    String path = call.getRequestURI().getPath();
    int status = 200;
    Object answer;
    try {
      if (path.startsWith(HostProtocol.ROOT + "/")) {
        String sent = call.getRequestHeaders().getFirst("Authorization");
        if (sent == null || !MessageDigest.isEqual(token, sent.getBytes(StandardCharsets.UTF_8))) {
          throw new Trouble(401, "NOT_ALLOWED", "The token is missing or wrong");
        }
        simulation.before(path);
        answer = protocol(call, path.substring(HostProtocol.ROOT.length()));
        simulation.after(path);
      } else if (simulates && path.startsWith("/simulate/")) {
        answer = simulate(path, body(call, JsonNode.class));
      } else {
        answer = people(call, path);
      }
    } catch (Trouble e) {
      status = e.status;
      answer = new HostProtocol.Trouble(e.code, String.valueOf(e.getMessage()));
    } catch (Quote.Refused e) {
      status = 422;
      answer = new HostProtocol.Trouble("REFUSED", String.valueOf(e.getMessage()));
    } catch (Simulation.Failing e) {
      status = 500;
      answer = new HostProtocol.Trouble("FAILED", String.valueOf(e.getMessage()));
    } catch (JacksonException | IllegalArgumentException e) {
      status = 400;
      answer = new HostProtocol.Trouble("NOT_UNDERSTOOD", String.valueOf(e.getMessage()));
    }
    byte[] bytes = JSON.writeValueAsBytes(answer);
    call.getResponseHeaders().set("Content-Type", "application/json");
    call.sendResponseHeaders(status, bytes.length);
    call.getResponseBody().write(bytes);
    call.close();
  }

  private static <T> T body(HttpExchange call, Class<T> type) throws IOException {
    byte[] bytes;
    try (InputStream in = call.getRequestBody()) {
      bytes = in.readNBytes(LONGEST + 1);
    }
    if (bytes.length > LONGEST) {
      throw new Trouble(413, "TOO_LONG", "The body is longer than 64 MiB");
    }
    return JSON.readValue(bytes, type);
  }

  private Object protocol(HttpExchange call, String path) throws IOException {
    String[] parts = path.substring(1).split("/");
    String act = call.getRequestMethod() + " " + parts[0];
    return switch (act) {
      case "GET identity" ->
          new HostProtocol.Identity(
              HostProtocol.VERSION,
              "Morrowick host",
              file.now().instance(),
              file.now().marker(),
              RELEASE,
              simulation.refreshes());
      case "PUT marker" -> mark(body(call, HostProtocol.Marker.class));
      case "GET inventory" -> inventory(query(call, "scope"));
      case "GET components" -> document(parts);
      case "GET work" ->
          new HostProtocol.Work(
              simulation.running(),
              simulation.people(),
              file.now().maintenance(),
              file.now().announced());
      case "PUT maintenance" -> maintenance(body(call, HostProtocol.Maintenance.class));
      case "PUT announcement" -> announce(body(call, HostProtocol.Announcement.class));
      case "POST refresh" -> refresh(body(call, HostProtocol.Refresh.class));
      case "PUT activation" -> activation(body(call, HostProtocol.Activation.class));
      case "POST probe" ->
          new HostProtocol.Answer(quote.answer(body(call, HostProtocol.Probe.class).question()));
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
      case "PUT prepared" -> runs.prepare(number, body(call, HostProtocol.Prepare.class));
      case "DELETE prepared" -> runs.discard(number);
      case "POST switch" -> runs.switchOver(number, body(call, HostProtocol.Switch.class));
      case "POST void" -> runs.makeVoid(number);
      case "POST undo" -> runs.undo(number);
      default -> throw new Trouble(404, "NOT_FOUND", "A run has no " + parts[2]);
    };
  }

  private static int limit(HttpExchange call) {
    int limit = Integer.parseInt(query(call, "limit"));
    if (limit < 1 || limit > 1000) {
      throw new Trouble(422, "LIMIT", "A limit is 1 to 1000; got " + limit);
    }
    return limit;
  }

  private static String query(HttpExchange call, String name) {
    String query = call.getRequestURI().getRawQuery();
    for (String pair : query == null ? new String[0] : query.split("&")) {
      if (pair.startsWith(name + "=")) {
        return URLDecoder.decode(pair.substring(name.length() + 1), StandardCharsets.UTF_8);
      }
    }
    return "";
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

  private HostProtocol.Maintenance maintenance(HostProtocol.Maintenance asked) {
    file.change(state -> state.withMaintenance(asked.on(), asked.notice()));
    return asked;
  }

  private HostProtocol.Announcement announce(HostProtocol.Announcement asked) {
    String at = asked.at();
    if (at != null) {
      try {
        Instant.parse(at);
      } catch (DateTimeParseException e) {
        throw new Trouble(422, "TIME", "There is no time " + at);
      }
    }
    file.change(state -> state.withAnnounced(at == null ? null : asked));
    return asked;
  }

  private HostProtocol.Refreshed refresh(HostProtocol.Refresh asked) {
    if (!simulation.refreshes()) {
      throw new Trouble(404, "NOT_FOUND", "This host keeps nothing that is refreshed");
    }
    return new HostProtocol.Refreshed(
        List.of("the list of forms"), List.of("open a form again that is open now"));
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

  /** What people use: a quote, and editing as the host's own editor does it. */
  private Object people(HttpExchange call, String path) throws IOException {
    if (path.equals("/quote") && call.getRequestMethod().equals("POST")) {
      if (file.now().maintenance()) {
        throw new Trouble(503, "CLOSED", "Closed for maintenance: " + file.now().notice());
      }
      return JSON.readTree(quote.answer(body(call, JsonNode.class).toString()));
    }
    throw new Trouble(404, "NOT_FOUND", "There is no " + path);
  }

  private Object simulate(String path, JsonNode body) {
    switch (path) {
      case "/simulate/fault" -> simulation.fault(JSON.treeToValue(body, Simulation.Fault.class));
      case "/simulate/refreshes" -> simulation.refreshes(body.path("on").asBoolean());
      case "/simulate/people" -> simulation.people(body.path("people").asLong(0));
      case "/simulate/work" -> simulation.work(JSON.treeToValue(body, Simulation.Working.class));
      case "/simulate/edit" -> edit(body);
      case "/simulate/marker" ->
          file.change(
              s ->
                  new State(
                      s.instance(),
                      null,
                      s.definitions(),
                      s.inputs(),
                      s.runs(),
                      s.maintenance(),
                      s.notice(),
                      s.nextRevision(),
                      s.announced()));
      default -> throw new Trouble(404, "NOT_FOUND", "There is no " + path);
    }
    return Map.of();
  }

  /** Somebody edits a definition in the host itself; without text it is taken away. */
  private void edit(JsonNode body) {
    String key = body.path("kind").asString("") + "/" + body.path("name").asString("");
    file.change(
        state -> {
          Map<String, State.Held> next = new TreeMap<>(state.definitions());
          State.Held old = next.get(key);
          if (!body.has("text")) {
            next.remove(key);
            return state.with(next, state.inputs(), state.nextRevision());
          }
          boolean active =
              body.has("active") ? body.path("active").asBoolean() : old == null || old.active();
          next.put(
              key,
              new State.Held(
                  "r" + state.nextRevision(),
                  body.path("text").asString(""),
                  active,
                  body.path("by").asString("somebody"),
                  Instant.now(Clock.systemUTC()).toString()));
          Map<String, State.Value> inputs = new TreeMap<>(state.inputs());
          for (Map.Entry<String, JsonNode> e : body.path("inputs").properties()) {
            inputs.put(e.getKey(), new State.Value(e.getValue().asString(""), false));
          }
          return state.with(next, inputs, state.nextRevision() + 1);
        });
  }

  @Override
  public void close() {
    server.stop(0);
    threads.shutdownNow();
  }
}
