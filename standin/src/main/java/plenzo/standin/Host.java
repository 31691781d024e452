package plenzo.standin;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.time.Clock;
import java.time.Instant;
import java.time.format.DateTimeParseException;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import plenzo.hostprotocol.HostProtocol;
import plenzo.hostprotocol.HostProtocol.Outcome;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Serves the host protocol, the people who ask for quotes, and the simulation. */
final class Host implements AutoCloseable {
  private static final JsonMapper JSON = new JsonMapper();

  private final HttpServer server;
  private final ExecutorService threads = Executors.newCachedThreadPool();
  private final StateFile file;
  private final Quote quote;
  private final Place main;
  private final Spaces spaces;
  private final Simulation simulation = new Simulation();
  private final byte[] token;
  private final boolean simulates;

  Host(Path folder, int port, String token, Quote.Database database, boolean simulates)
      throws IOException {
    this.file = new StateFile(folder);
    this.quote = new Quote(file, database);
    this.main = new Place(file, quote, simulation);
    this.spaces =
        new Spaces(
            folder.resolve("spaces"),
            state -> new Place(state, new Quote(state, database), simulation));
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
        answer = simulate(path, Calls.body(call, JsonNode.class));
      } else {
        answer = people(call, path);
      }
    } catch (Trouble e) {
      status = e.status();
      answer = new HostProtocol.Trouble(e.code(), String.valueOf(e.getMessage()));
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

  private Object protocol(HttpExchange call, String path) throws IOException {
    String[] parts = path.substring(1).split("/");
    String act = call.getRequestMethod() + " " + parts[0];
    return switch (act) {
      case "GET work" ->
          new HostProtocol.Work(
              simulation.running(),
              simulation.people(),
              file.now().maintenance(),
              file.now().announced());
      case "PUT maintenance" -> maintenance(Calls.body(call, HostProtocol.Maintenance.class));
      case "PUT announcement" -> announce(Calls.body(call, HostProtocol.Announcement.class));
      case "POST refresh" -> refresh(Calls.body(call, HostProtocol.Refresh.class));
      case "GET spaces", "PUT spaces", "DELETE spaces", "POST spaces" -> space(call, parts);
      default -> main.answer(call, parts);
    };
  }

  /** A place of its own: made, taken away, or asked as the host itself is. */
  private Object space(HttpExchange call, String[] parts) throws IOException {
    if (!simulation.spaces()) {
      throw new Trouble(404, "NOT_FOUND", "This host makes no places of their own");
    }
    String act = call.getRequestMethod();
    if (parts.length == 1 && act.equals("GET")) {
      return new HostProtocol.Spaces(spaces.names());
    }
    if (parts.length == 2 && act.equals("PUT")) {
      spaces.open(parts[1], Calls.body(call, HostProtocol.Space.class).empty() ? null : file.now());
      return Outcome.of("applied");
    }
    if (parts.length == 2 && act.equals("DELETE")) {
      spaces.drop(parts[1]);
      return Outcome.of("applied");
    }
    if (parts.length < 3) {
      throw new Trouble(404, "NOT_FOUND", "A place's calls are spaces/NAME/WHAT");
    }
    return spaces.find(parts[1]).answer(call, Arrays.copyOfRange(parts, 2, parts.length));
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

  /** What people use: a quote, and editing as the host's own editor does it. */
  private Object people(HttpExchange call, String path) throws IOException {
    if (path.equals("/quote") && call.getRequestMethod().equals("POST")) {
      if (file.now().maintenance()) {
        throw new Trouble(503, "CLOSED", "Closed for maintenance: " + file.now().notice());
      }
      return JSON.readTree(quote.answer(Calls.body(call, JsonNode.class).toString()));
    }
    throw new Trouble(404, "NOT_FOUND", "There is no " + path);
  }

  private Object simulate(String path, JsonNode body) {
    switch (path) {
      case "/simulate/fault" -> simulation.fault(JSON.treeToValue(body, Simulation.Fault.class));
      case "/simulate/refreshes" -> simulation.refreshes(body.path("on").asBoolean());
      case "/simulate/spaces" -> simulation.spaces(body.path("on").asBoolean());
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
