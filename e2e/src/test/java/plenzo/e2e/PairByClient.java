package plenzo.e2e;

import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import plenzo.core.component.TableName;
import plenzo.demo.Cluster;
import plenzo.demo.Service;
import plenzo.demo.Teller;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * A service of its own, told by the client alone to bring what one database has to the other, and
 * to go back: set up from nothing, as somebody at a terminal does it.
 */
final class PairByClient implements AutoCloseable {
  private static final String PASSWORD = "first-crossing";
  private static final String AT = "fares@production";

  private final Started started = new Started();
  private final StringWriter told = new StringWriter();
  private final Teller teller;

  /**
   * @param folder for the service's records
   * @param port of the server with both databases
   */
  PairByClient(Path folder, int port) throws IOException {
    Files.createDirectories(folder);
    Service service =
        started.add(
            new Service(
                TestService.JAR,
                folder,
                TestService.freePort(),
                List.of("127.0.0.1:" + port),
                folder,
                PASSWORD,
                /* mailPort= */ 0));
    teller = new Teller(service.address(), new PrintWriter(told));
    teller.signIn("admin", PASSWORD);
    run("stage", "new", "development", "--name", "Development", "--role", "development");
    run("stage", "new", "production", "--name", "Production", "--role", "test", "--position", "1");
    teller.connect(
        "admin", "development/look", port, "development", "development_look", Cluster.PASSWORD);
    teller.connect(
        "admin", "production/look", port, "production", "production_look", Cluster.PASSWORD);
    teller.connect(
        "admin", "production/change", port, "production", "production_change", Cluster.PASSWORD);
    teller.connect("admin", "production/scratch", port, "postgres", "scratch", Cluster.PASSWORD);
    run("site", "new", "development/main", "--looking", "look", "--schema", "fares");
    run(
        "site",
        "new",
        "production/main",
        "--looking",
        "look",
        "--changing",
        "change",
        "--scratch",
        "scratch",
        "--schema",
        "fares");
    run("site", "check", "production/main");
    run(
        "path",
        "new",
        "straight",
        "--name",
        "Straight",
        "--source",
        "development",
        "--leg",
        "production");
    run(
        "app",
        "new",
        "fares",
        "--name",
        "Fares",
        "--owner",
        "Desk",
        "--space",
        "fares",
        "--path",
        "straight");
    run(
        "role",
        "grant",
        "admin",
        "developer",
        "release-engineer",
        "operate",
        "go-back",
        "see-values",
        "--app",
        "fares");
  }

  private Teller.Answer run(String... command) {
    return teller.run("admin", 0, command);
  }

  private JsonNode data(String... command) {
    List<String> all = new ArrayList<>(List.of(command));
    all.add("--json");
    JsonNode answer = JsonMapper.shared().readTree(run(all.toArray(String[]::new)).out());
    return answer.has("data") ? answer.get("data") : answer;
  }

  /** The first version of what production holds, the rows of these tables too. */
  void adopt(List<String> tables) {
    List<String> command =
        new ArrayList<>(
            List.of(
                "app",
                "adopt",
                "fares",
                "--site",
                "production",
                "--number",
                "1.0.0",
                "--title",
                "Was there",
                "--everything",
                "--generated-key"));
    if (tables.isEmpty()) {
      command.add("--no-records");
    } else {
      command.add("--records");
      tables.forEach(t -> command.add(new TableName("fares", t).componentName()));
    }
    run(command.toArray(String[]::new));
  }

  /** Everything that development has becomes a version and comes to production. */
  void bring() {
    String draft = run("draft", "new", "fares").number("D");
    run("draft", "add", draft, "--site", "development", "--everything", "--generated-key");
    try {
      run("draft", "check", draft);
    } catch (IllegalStateException e) { // something is asked
      for (JsonNode asked : data("draft", "show", draft).get("checked").get("renames")) {
        sayTwo(draft, asked);
      }
      run("draft", "check", draft);
    }
    run("draft", "take-away", draft, "--all-gone");
    run("draft", "check", draft);
    run("draft", "seal", draft, "--number", "1.1.0", "--title", "Everything");
    Teller.Answer plan = run("promotion", "prepare", "fares@1.1.0", "--to", "production", "--wait");
    run(
        "run",
        "start",
        plan.number("P"),
        "--wait",
        "--yes",
        "--confirm",
        "fares",
        "--expect",
        plan.fingerprint());
  }

  /** What is gone and what is new are two: they were made so. */
  private void sayTwo(String draft, JsonNode asked) {
    String component = asked.get("component").asString();
    String was = asked.get("was").asString();
    String is = asked.get("is").asString();
    if (is.equals(component)) {
      run("draft", "two-tables", draft, was, is);
    } else {
      run("draft", "two-columns", draft, component, was, is);
    }
  }

  /**
   * @param way "backup" or "earlier-version"
   */
  void goBack(String way) {
    String plan = "";
    for (JsonNode option : data("rollback", "ways", AT).get("ways")) {
      if (option.get("way").asString().equals(way)) {
        plan = option.get("fingerprint").asString();
      }
    }
    run(
        "rollback",
        "start",
        AT,
        "--way",
        way,
        "--reason",
        "Tried",
        "--yes",
        "--confirm",
        "fares",
        "--expect",
        plan,
        "--wait");
  }

  /** Every command with what came back. */
  String told() {
    return told.toString();
  }

  @Override
  public void close() {
    started.close();
  }
}
