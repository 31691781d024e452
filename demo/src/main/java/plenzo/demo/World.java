package plenzo.demo;

import java.util.ArrayList;
import java.util.List;

/**
 * Sets Plenzo up for the sample world through the client: people, stages, connections, path,
 * applications.
 */
public final class World {
  /**
   * Sign-ins of the sample world; they exist only where the demo started the service on loopback.
   */
  public static final String PASSWORD = "morrowick-ferries";

  private World() {}

  /**
   * @param places its systems
   * @param databasePort where the sample databases are reached: their own, or a relay's
   */
  public static void setUp(Teller t, Places places, int databasePort, String adminPassword) {
    t.say("An administrator sets up stages, people and the path");
    t.signIn("admin", adminPassword);
    person(
        t,
        "ines",
        "Ines Halvorsen, release manager",
        "look",
        "author",
        "prepare",
        "run",
        "go-back",
        "operate",
        "see-values",
        "hand-out",
        "bring-in");
    person(t, "bram", "Bram Okafor, business owner of fares", "look", "approve", "see-values");
    person(t, "tove", "Tove Lindqvist, tester", "look", "judge", "see-values");
    person(t, "odile", "Odile Brandt, auditor", "look", "audit");
    t.run(
        "admin",
        0,
        "stage",
        "new",
        "development",
        "--name",
        "Development",
        "--role",
        "development",
        "--position",
        "0");
    t.run(
        "admin", 0, "stage", "new", "test", "--name", "Test", "--role", "test", "--position", "1");
    t.run(
        "admin",
        0,
        "stage",
        "new",
        "production",
        "--name",
        "Production",
        "--role",
        "production",
        "--position",
        "2",
        "--zone",
        "Europe/Oslo");
    Places.SITES.forEach((site, database) -> site(t, places, databasePort, site, database));
    for (String stage : List.of("development", "test", "production")) {
      for (String site : Places.SITES.keySet()) {
        if (site.startsWith(stage + "/")) {
          t.run("admin", 0, "site", "check", site);
        }
      }
    }
    t.run(
        "admin",
        0,
        "path",
        "new",
        "ordinary",
        "--name",
        "Ordinary",
        "--source",
        "development",
        "--leg",
        "test",
        "--leg",
        "production");
    t.run("admin", 0, "path", "gates", "ordinary", "test", "--proof", "true");
    t.run(
        "admin",
        0,
        "path",
        "gates",
        "ordinary",
        "production",
        "--verdict",
        "true",
        "--proof",
        "true");
    t.run(
        "admin",
        0,
        "app",
        "new",
        "fares",
        "--name",
        "Fares",
        "--owner",
        "Ticketing team",
        "--schema",
        "fares",
        "--path",
        "ordinary");
    t.run(
        "admin",
        0,
        "app",
        "new",
        "sailings",
        "--name",
        "Sailings",
        "--owner",
        "Operations team",
        "--schema",
        "sailings",
        "--path",
        "ordinary");
    t.run(
        "admin",
        0,
        "app",
        "change",
        "fares",
        "--description",
        "What every crossing costs: bands, concessions, surcharges, and the quote desk",
        "--support",
        "test=Ticketing team",
        "--support",
        "production=Fares desk, extension 210");
    for (String name : List.of("ines", "bram", "tove", "odile")) {
      t.signIn(name, PASSWORD);
    }
  }

  private static void person(Teller t, String login, String shown, String... rights) {
    t.withInput("admin", 0, PASSWORD, "user", "invite", login, "--shown", shown, "--keep-password");
    String[] grant = new String[rights.length + 3];
    grant[0] = "role";
    grant[1] = "grant";
    grant[2] = login;
    System.arraycopy(rights, 0, grant, 3, rights.length);
    t.run("admin", 0, grant);
  }

  /** One site with its three targets; connections of production carry the site's name. */
  private static void site(
      Teller t, Places places, int databasePort, String site, String database) {
    String stage = site.substring(0, site.indexOf('/'));
    boolean source = stage.equals("development");
    String tail = stage.equals("production") ? "-" + site.substring(site.indexOf('/') + 1) : "";
    List<String> command = new ArrayList<>(List.of("site", "new", site));
    connection(t, databasePort, stage, "look" + tail, database, database + "_look");
    command.addAll(List.of("--looking", "look" + tail));
    if (!source) {
      connection(t, databasePort, stage, "change" + tail, database, database + "_change");
      connection(t, databasePort, stage, "scratch" + tail, "postgres", "scratch");
      command.addAll(List.of("--changing", "change" + tail, "--scratch", "scratch" + tail));
    }
    command.addAll(List.of("--schema", "fares", "--schema", "sailings"));
    String files = stage + "/files" + tail;
    t.run(
        "admin",
        0,
        "connection",
        "new",
        files,
        "--leads-to",
        "directory",
        "--path",
        places.published(site).toString());
    if (!source) {
      t.run("admin", 0, "connection", "ready", files);
    }
    HostProcess host = places.host(site);
    t.withInput(
        "admin",
        0,
        host.token(),
        "connection",
        "new",
        stage + "/host" + tail,
        "--leads-to",
        "host",
        "--host",
        "127.0.0.1",
        "--port",
        String.valueOf(host.port()),
        "--tls",
        "disable");
    command.addAll(List.of("--directory", "files" + tail, "--app-host", "host" + tail));
    if (site.equals("production/south")) {
      command.addAll(List.of("--keep-out", database + "_desk", "--closed-file", "closed.html"));
    }
    t.run("admin", 0, command.toArray(String[]::new));
  }

  private static void connection(
      Teller t, int databasePort, String stage, String name, String database, String account) {
    t.connect("admin", stage + "/" + name, databasePort, database, account, Cluster.PASSWORD);
  }
}
