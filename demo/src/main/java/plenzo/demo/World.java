package plenzo.demo;

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
   * @param databasePort where the sample databases are reached
   */
  public static void setUp(Teller t, int databasePort, String adminPassword) {
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
        "see-values");
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
        "admin",
        0,
        "stage",
        "new",
        "test",
        "--name",
        "Test",
        "--role",
        "test",
        "--position",
        "1",
        "--needs-proof");
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
        "--approvals",
        "1",
        "--needs-verdict",
        "--needs-proof",
        "--zone",
        "Europe/Oslo");
    for (String stage : List.of("development", "test", "production")) {
      connection(t, databasePort, stage, "look", stage, stage + "_look");
      if (!stage.equals("development")) {
        connection(t, databasePort, stage, "change", stage, stage + "_change");
        connection(t, databasePort, stage, "scratch", "postgres", "scratch");
        t.run(
            "admin",
            0,
            "site",
            "new",
            stage + "/main",
            "--looking",
            "look",
            "--changing",
            "change",
            "--scratch",
            "scratch",
            "--schema",
            "fares",
            "--schema",
            "sailings");
      } else {
        t.run(
            "admin",
            0,
            "site",
            "new",
            stage + "/main",
            "--looking",
            "look",
            "--schema",
            "fares",
            "--schema",
            "sailings");
      }
      t.run("admin", 0, "site", "check", stage);
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

  private static void connection(
      Teller t, int databasePort, String stage, String name, String database, String account) {
    t.withInput(
        "admin",
        0,
        Cluster.PASSWORD,
        "connection",
        "new",
        stage + "/" + name,
        "--host",
        "127.0.0.1",
        "--port",
        String.valueOf(databasePort),
        "--database",
        database,
        "--account",
        account,
        "--tls",
        "disable");
  }
}
