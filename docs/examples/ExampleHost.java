import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.*;
import java.util.*;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.*;

/** The smallest application host that holds every rule of docs/formats/host-protocol.yaml; to be copied. */
public class ExampleHost implements AutoCloseable {
  static final JsonMapper JSON = new JsonMapper();
  final Path file;
  final String token;
  final HttpServer http;
  ObjectNode state; // all that must survive a power cut: written whole, before a call is answered

  public ExampleHost(int port, Path file, String token) throws IOException {
    this.file = file;
    this.token = token;
    state = Files.exists(file)
        ? (ObjectNode) JSON.readTree(Files.readString(file))
        : (ObjectNode) JSON.readTree("{\"instance\":\"" + UUID.randomUUID() + "\",\"revision\":0,\"marker\":null,\"components\":{},\"inputs\":{},\"runs\":{},\"maintenance\":{\"on\":false,\"run\":0,\"notice\":\"\"}}");
    save();
    http = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), port), 50);
    http.createContext("/plenzo-host/v1/", this::serve);
    http.start();
  }

  /** A call that is not served. */
  static class Trouble extends RuntimeException {
    final int status;
    Trouble(int status, String message) { super(message); this.status = status; }
  }

  synchronized void serve(HttpExchange x) throws IOException {
    Object answer;
    int status = 200;
    try {
      byte[] body = x.getRequestBody().readNBytes(64 << 20);
      if (!("Bearer " + token).equals(x.getRequestHeaders().getFirst("Authorization"))) throw new Trouble(401, "Who are you?");
      answer = call(x.getRequestMethod(), x.getRequestURI().getPath().substring(16).split("/"), String.valueOf(x.getRequestURI().getQuery()), body);
    } catch (Trouble e) {
      status = e.status;
      answer = Map.of("code", "TROUBLE", "message", e.getMessage());
    } catch (JacksonException | NullPointerException | ClassCastException | NumberFormatException e) {
      status = 400;
      answer = Map.of("code", "MALFORMED", "message", "That is no call of the protocol");
    }
    byte[] bytes = JSON.writeValueAsBytes(answer);
    x.getResponseHeaders().set("Content-Type", "application/json");
    x.sendResponseHeaders(status, bytes.length);
    x.getResponseBody().write(bytes);
    x.close();
  }

  Object call(String method, String[] at, String query, byte[] body) throws IOException {
    JsonNode in = body.length == 0 ? JSON.createObjectNode() : JSON.readTree(body);
    switch (method + " " + at[0] + (at[0].equals("runs") && at.length > 2 ? " " + at[2] : "")) {
      case "GET identity": {
        ObjectNode out = JSON.createObjectNode().put("protocol", 1).put("product", "Example").put("instance", text(state, "instance"));
        return out.set("marker", state.get("marker"));
      }
      case "PUT marker": return mark((ObjectNode) in);
      case "GET inventory": return Map.of("components", inventory(query.substring("scope=".length())));
      case "GET components": return document(component(at[1] + "/" + at[2]));
      case "GET runs": return Map.of("runs", applied(Integer.parseInt(query.substring("limit=".length()))));
      case "GET prepared": return Map.of("runs", prepared());
      case "PUT runs prepared": return prepare(at[1], in);
      case "DELETE runs prepared": return discard(run(at[1]));
      case "POST runs switch": return switchOver(run(at[1]), in);
      case "POST runs void": return makeVoid(run(at[1]));
      case "POST runs undo": return undo(run(at[1]));
      case "GET work": return Map.of("running", List.of(), "people", 0, "maintenance", state.get("maintenance").get("on"));
      case "PUT maintenance": { in.get("on").asBoolean(); state.set("maintenance", in); save(); return in; }
      case "PUT activation": { component(text(in, "kind") + "/" + text(in, "name")).set("active", in.get("active")); save(); return in; }
      case "POST probe": return probe(text(in, "question"));
      default: throw new Trouble(404, "There is nothing at this address");
    }
  }

  Object mark(ObjectNode asked) throws IOException {
    JsonNode old = state.get("marker");
    boolean same = old.isNull() || List.of("service", "stage", "site", "target").stream().allMatch(f -> old.get(f).equals(asked.get(f)));
    if (!same) return refused("other", List.of());
    if (old.isNull()) { state.set("marker", asked); save(); }
    return outcome("applied", null);
  }

  List<JsonNode> inventory(String scope) {
    List<JsonNode> out = new ArrayList<>();
    for (JsonNode c : components().values()) {
      if (!text(c, "name").startsWith(scope + ".")) continue;
      ArrayNode unbound = JSON.createArrayNode();
      for (JsonNode input : JSON.readTree(text(c, "text")).path("inputs")) if (!state.get("inputs").has(text(input, "name"))) unbound.add(text(input, "name"));
      ObjectNode shown = ((ObjectNode) c).deepCopy();
      shown.remove("text");
      out.add(shown.set("unbound", unbound));
    }
    return out;
  }

  ObjectNode component(String key) {
    JsonNode c = components().get(key);
    if (c == null) throw new Trouble(404, "There is no " + key);
    return (ObjectNode) c;
  }

  /** What is given back is what was given, character by character. */
  Object document(ObjectNode c) { return Map.of("kind", text(c, "kind"), "name", text(c, "name"), "revision", text(c, "revision"), "text", text(c, "text")); }

  List<JsonNode> applied(int limit) {
    List<JsonNode> out = new ArrayList<>();
    state.get("runs").properties().forEach(r -> {
      if (text(r.getValue(), "phase").equals("applied")) out.add(0, JSON.createObjectNode().put("run", Long.parseLong(r.getKey())).put("version", text(r.getValue(), "version")).put("fingerprint", text(r.getValue(), "fingerprint")).set("anchor", r.getValue().path("anchor")));
    });
    return out.subList(0, Math.min(limit, out.size()));
  }

  List<Long> prepared() { return state.get("runs").properties().stream().filter(r -> text(r.getValue(), "phase").equals("prepared")).map(r -> Long.parseLong(r.getKey())).toList(); }

  Object prepare(String number, JsonNode in) throws IOException {
    ObjectNode run = run(number);
    String phase = text(run, "phase");
    if (phase.equals("void")) return refused("void", List.of());
    if (phase.equals("applied") || phase.equals("undone")) return outcome(phase, run);
    if (prepared().stream().anyMatch(n -> n != Long.parseLong(number))) return refused("busy", List.of());
    in.get("changes").forEach(c -> { if (!c.get("document").isNull()) JSON.readTree(text(c, "document")); });
    run.put("phase", "prepared").set("changes", in.get("changes"));
    run.set("inputs", in.get("inputs"));
    save();
    return outcome("prepared", null);
  }

  Object discard(ObjectNode run) throws IOException {
    if (!List.of("", "prepared", "discarded").contains(text(run, "phase"))) return outcome(text(run, "phase"), run);
    run.removeAll();
    run.put("phase", "discarded");
    save();
    return outcome("discarded", null);
  }

  Object switchOver(ObjectNode run, JsonNode in) throws IOException {
    String phase = text(run, "phase");
    if (phase.equals("applied") || phase.equals("undone")) return outcome(phase, run);
    if (!phase.equals("prepared")) return refused(phase.equals("void") ? "void" : "not prepared", List.of());
    List<String> moved = new ArrayList<>();
    for (JsonNode c : run.get("changes")) if (!Objects.equals(revision(key(c)), c.get("present").isNull() ? null : text(c, "present"))) moved.add(key(c));
    if (!moved.isEmpty()) return refused("moved", moved);
    ArrayNode before = JSON.createArrayNode();
    for (JsonNode c : run.get("changes")) {
      JsonNode old = components().get(key(c));
      ObjectNode was = before.addObject().put("key", key(c));
      was.set("old", old == null ? null : old.deepCopy());
      write(key(c), c.get("document").isNull() ? null : text(c, "document"), c.get("activate").asBoolean() || old != null && old.get("active").asBoolean());
      was.put("wrote", revision(key(c)));
    }
    run.put("phase", "applied").set("before", before);
    run.set("inputsBefore", state.get("inputs").deepCopy());
    for (JsonNode i : run.get("inputs")) if (i.get("value").isNull()) ((ObjectNode) state.get("inputs")).remove(text(i, "name")); else ((ObjectNode) state.get("inputs")).set(text(i, "name"), i.get("value"));
    for (String f : List.of("version", "fingerprint", "person", "anchor")) run.set(f, in.path(f).isMissingNode() ? JSON.nullNode() : in.get(f));
    save();
    return outcome("applied", run);
  }

  Object makeVoid(ObjectNode run) throws IOException {
    if (!List.of("applied", "undone").contains(text(run, "phase"))) { run.removeAll(); run.put("phase", "void"); save(); }
    return outcome(text(run, "phase"), run);
  }

  Object undo(ObjectNode run) throws IOException {
    if (!text(run, "phase").equals("applied")) return makeVoid(run);
    List<String> touched = new ArrayList<>();
    for (JsonNode b : run.get("before")) if (!Objects.equals(revision(text(b, "key")), b.get("wrote").isNull() ? null : text(b, "wrote"))) touched.add(text(b, "key"));
    if (!touched.isEmpty()) return refused("touched", touched);
    for (JsonNode b : run.get("before")) write(text(b, "key"), b.get("old").isNull() ? null : text(b.get("old"), "text"), b.get("old").path("active").asBoolean(false));
    for (JsonNode i : run.get("inputs")) { JsonNode old = run.get("inputsBefore").get(text(i, "name")); if (old == null) ((ObjectNode) state.get("inputs")).remove(text(i, "name")); else ((ObjectNode) state.get("inputs")).set(text(i, "name"), old); }
    run.put("phase", "undone");
    save();
    return outcome("undone", run);
  }

  /** {"active":"rule/x.y"} asks whether a definition is on; nothing else is understood, and nothing is changed. */
  Object probe(String question) {
    JsonNode asked;
    try { asked = JSON.readTree(question); } catch (JacksonException e) { throw new Trouble(422, "A question is JSON"); }
    if (!asked.has("active")) throw new Trouble(422, "Ask {\"active\":\"rule/NAME\"}");
    return Map.of("answer", "{\"active\":" + component(text(asked, "active")).get("active") + "}");
  }

  void write(String key, String text, boolean active) {
    if (text == null) { ((ObjectNode) state.get("components")).remove(key); return; }
    int slash = key.indexOf('/');
    state.put("revision", state.get("revision").asLong() + 1); // never comes again, whatever was there before
    ((ObjectNode) state.get("components")).putObject(key).put("kind", key.substring(0, slash)).put("name", key.substring(slash + 1)).put("revision", "r" + state.get("revision").asLong()).put("active", active).put("text", text);
  }

  ObjectNode run(String number) { JsonNode r = state.get("runs").get(number); return r != null ? (ObjectNode) r : ((ObjectNode) state.get("runs")).putObject(String.valueOf(Long.parseLong(number))).put("phase", ""); }
  Map<String, JsonNode> components() { Map<String, JsonNode> out = new TreeMap<>(); state.get("components").properties().forEach(e -> out.put(e.getKey(), e.getValue())); return out; }
  String revision(String key) { JsonNode c = components().get(key); return c == null ? null : text(c, "revision"); }
  static String key(JsonNode change) { return text(change, "kind") + "/" + text(change, "name"); }
  static String text(JsonNode in, String field) { return in.get(field).asString(); }
  static Object refused(String why, List<String> details) { return JSON.createObjectNode().put("outcome", "refused").put("why", why).set("details", JSON.valueToTree(details)); }
  static Object outcome(String word, ObjectNode run) { ObjectNode out = JSON.createObjectNode().put("outcome", word).put("fingerprint", run == null || !run.has("fingerprint") ? null : text(run, "fingerprint")); out.putNull("why"); out.putArray("details"); return out; }

  /** Aside, flushed, renamed: there is the old state or the new one. */
  void save() throws IOException {
    Path aside = file.resolveSibling(file.getFileName() + ".part");
    try (FileChannel out = FileChannel.open(aside, StandardOpenOption.CREATE, StandardOpenOption.TRUNCATE_EXISTING, StandardOpenOption.WRITE)) { out.write(ByteBuffer.wrap(JSON.writeValueAsBytes(state))); out.force(true); }
    Files.move(aside, file, StandardCopyOption.ATOMIC_MOVE);
    try (FileChannel folder = FileChannel.open(file.toAbsolutePath().getParent())) { folder.force(true); }
  }

  @Override
  public void close() { http.stop(0); }

  /** PORT FILE TOKEN-FILE */
  public static void main(String[] args) throws IOException { new ExampleHost(Integer.parseInt(args[0]), Path.of(args[1]), Files.readString(Path.of(args[2])).strip()); }
}
