package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.http.HttpClient;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Base64;
import java.util.Collections;
import java.util.List;
import java.util.stream.Stream;
import org.awaitility.Awaitility;
import plenzo.demo.Cluster;
import plenzo.demo.Teller;
import plenzo.demo.World;

/** What must hold where the demo's story was told, beside what it says itself. */
final class StoryChecks {
  private StoryChecks() {}

  /** Ends with 2.6.1 in production. */
  static void hold(TestService service, Teller teller) throws IOException {
    theReadmeNamesThePromotionThatWaits(teller);
    whatOneSaidCanBeTakenBack(teller);
    Viewers viewers = new Viewers(service, teller);
    untouchedRowsLeaveApprovalsStanding(teller, service.cluster);
    viewers.sawOnlyWhatTheyMay();
    keysOfUsedRowsAreShownToTheirReadersAlone(teller, service.cluster);
    privateValuesAreOnlySaidToDiffer(teller);
    versionsAreComparedWithOneAnother(teller);
    everyOperationAsksForWhatIsWritten(service);
  }

  /** Of what was told, and of all files once the service has ended. */
  static void noSecretIsLeft(String told, Path data) throws IOException {
    assertThat(told)
        .as("what was where while 2.5.0 was in production")
        .containsPattern("standing --at [^\n]*\\n[^#]*production/north\\s+2\\.5\\.0");
    assertThat(told).doesNotContain(Cluster.PASSWORD).doesNotContain(World.PASSWORD);
    String encoded =
        Base64.getEncoder()
            .withoutPadding()
            .encodeToString(Cluster.PASSWORD.getBytes(StandardCharsets.UTF_8));
    try (Stream<Path> files = Files.walk(data)) {
      for (Path file :
          files
              .filter(Files::isRegularFile)
              .filter(f -> !f.toString().contains("postgres"))
              .filter(f -> !f.toString().contains("/sites/")) // the hosts' own
              .toList()) {
        String bytes = Files.readString(file, StandardCharsets.ISO_8859_1);
        assertThat(bytes.contains(Cluster.PASSWORD)).as("the secret in " + file).isFalse();
        assertThat(bytes.contains(encoded)).as("the secret in base64 in " + file).isFalse();
      }
    }
  }

  private static void theReadmeNamesThePromotionThatWaits(Teller teller) throws IOException {
    java.util.regex.Matcher named =
        java.util.regex.Pattern.compile("promotion show (P-[0-9]+)")
            .matcher(Files.readString(Path.of("../README.md")));
    assertThat(named.find()).isTrue();
    assertThat(teller.run("ines", 0, "promotion", "list", "--app", "fares").out())
        .containsPattern(named.group(1) + "\\s+fares@2\\.6\\.1");
  }

  private static void everyOperationAsksForWhatIsWritten(TestService service) throws IOException {
    RightsWalk walk = new RightsWalk(service.address(), TestService.ADMIN);

    assertThat(walk.walk())
        .as("docs/rights.md")
        .containsExactlyInAnyOrderEntriesOf(RightsWalk.written());
    assertThat(RightsWalk.written().keySet())
        .as("every operation has its line")
        .containsExactlyInAnyOrderElementsOf(walk.operations());
  }

  /** Two streams of events: of somebody who may look, and of somebody who has no right at all. */
  private static final class Viewers {
    private final List<String> odile = Collections.synchronizedList(new ArrayList<>());
    private final List<String> nora = Collections.synchronizedList(new ArrayList<>());

    Viewers(TestService service, Teller teller) {
      teller.withInput(
          "admin", 0, World.PASSWORD, "user", "invite", "nora", "--shown", "N", "--keep-password");
      listen(service, "odile", odile);
      listen(service, "nora", nora);
      Awaitility.await().until(() -> !odile.isEmpty() && !nora.isEmpty());
    }

    private static void listen(TestService service, String login, List<String> to) {
      Events.hear(HttpClient.newHttpClient(), service.address(), login, to::add, e -> {});
    }

    void sawOnlyWhatTheyMay() {
      Awaitility.await().until(() -> List.copyOf(odile).toString().contains("database: committed"));
      assertThat(List.copyOf(odile).toString()).contains("event:run").doesNotContain("\"PET\"");
      assertThat(List.copyOf(nora).toString()).doesNotContain("R-").doesNotContain("event:");
    }
  }

  /** Whoever may not see values reads what is in the way, and chooses for all of it. */
  private static void keysOfUsedRowsAreShownToTheirReadersAlone(Teller teller, Cluster cluster) {
    cluster.sql(
        "production",
        "INSERT INTO fares.booking (passenger, band_code, concession_code, price) VALUES ('With a dog', 'FOOT', 'PET', 12.00)");
    String[] ways = {"rollback", "ways", "fares@production/north"};

    assertThat(teller.run("ines", 0, ways).out())
        .contains("is used by 1 row of fares.booking")
        .contains("records/fares.concession:PET");
    assertThat(teller.run("odile", 0, ways).out())
        .contains("is used by 1 row of fares.booking")
        .contains("--leave records/fares.concession")
        .doesNotContain("PET");
    String[] test = {"drift", "show", "fares@test"};
    assertThat(teller.run("ines", 0, test).out())
        .contains("changed row/\"FOOT\"")
        .contains("name: recorded Foot passenger, there Walk-on passenger");
    assertThat(teller.run("odile", 0, test).out())
        .contains("changed row/…")
        .contains("name: recorded …, there …")
        .doesNotContain("FOOT")
        .doesNotContain("Walk-on");
    String[] beside = {"component", "compare", "fares@test", "--with", "2.6.1"};
    assertThat(teller.run("ines", 0, beside).out())
        .contains("name: 2.6.1 Foot passenger, test/main Walk-on passenger");
    assertThat(teller.run("odile", 0, beside).out())
        .contains("changed row/…")
        .doesNotContain("Walk-on");
    cluster.sql("production", "DELETE FROM fares.booking WHERE passenger = 'With a dog'");
  }

  private static void whatOneSaidCanBeTakenBack(Teller teller) {
    String p = teller.run("bram", 0, "waiting").number("P");
    String plan = teller.run("bram", 0, "promotion", "show", p).fingerprint();
    teller.run("bram", 0, "promotion", "approve", p, "--expect", plan);
    teller.run("bram", 0, "promotion", "take-back", p, "--reason", "Read it once more");

    teller.run("ines", 7, "run", "start", p, "--yes", "--expect", plan);
    teller.run("bram", 7, "promotion", "take-back", p, "--reason", "Nothing stands");
  }

  private static void privateValuesAreOnlySaidToDiffer(Teller teller) {
    assertThat(teller.run("ines", 0, "promotion", "compare", "P-2").out())
        .contains("amount: 4.75 -> 5.00");
    assertThat(teller.run("ines", 0, "promotion", "compare", "P-2", "--find", "4.75").out())
        .contains("row PEAK");

    teller.run("ines", 4, "app", "change", "fares", "--private", "fares.surcharge.amount");
    teller.run("admin", 0, "app", "change", "fares", "--private", "fares.surcharge.amount");

    assertThat(teller.run("ines", 0, "promotion", "compare", "P-2").out())
        .contains("amount: … -> …")
        .doesNotContain("4.75");
    assertThat(teller.run("ines", 0, "promotion", "compare", "P-2", "--find", "4.75").out())
        .doesNotContain("row PEAK");
    assertThat(teller.run("ines", 0, "version", "compare", "fares@2.3.0", "2.4.0").out())
        .contains("amount: … -> …");
    teller.run("admin", 0, "app", "change", "fares", "--private", "");
    assertThat(teller.run("ines", 0, "promotion", "compare", "P-2").out())
        .contains("amount: 4.75 -> 5.00");
  }

  private static void versionsAreComparedWithOneAnother(Teller teller) {
    assertThat(teller.run("odile", 0, "version", "compare", "fares@2.4.0", "2.4.1").out())
        .contains("records/fares.surcharge")
        .doesNotContain("fare_band");
    teller.run("odile", 0, "version", "compare", "fares@2.4.0", "2.4.0", "--fail-on-difference");
    teller.run("odile", 14, "version", "compare", "fares@2.4.0", "2.4.1", "--fail-on-difference");
    teller.run("odile", 5, "version", "compare", "fares@2.4.0", "9.9.9");
  }

  /**
   * 1,000 untouched rows of a touched table are inserted, changed and removed: the approved plan
   * stands.
   */
  private static void untouchedRowsLeaveApprovalsStanding(Teller teller, Cluster cluster) {
    Teller.Answer open = teller.run("bram", 0, "waiting");
    String p = open.number("P");
    Teller.Answer shown = teller.run("bram", 0, "promotion", "show", p);
    teller.run("bram", 0, "promotion", "approve", p, "--expect", shown.fingerprint());
    cluster.sql(
        "production",
        "INSERT INTO fares.concession SELECT 'U' || n, 'User ' || n, 1 FROM generate_series(1, 1000) n; UPDATE fares.concession SET percent = 2 WHERE code LIKE 'U1%'; DELETE FROM fares.concession WHERE code LIKE 'U2%'; ANALYZE fares.concession");
    String kept =
        cluster
            .query(
                "production",
                "SELECT count(*), sum(percent) FROM fares.concession WHERE code LIKE 'U%'")
            .get(0);

    teller.run("ines", 0, "run", "start", p, "--wait", "--yes", "--expect", shown.fingerprint());

    assertThat(
            cluster.query(
                "production",
                "SELECT count(*), sum(percent) FROM fares.concession WHERE code LIKE 'U%'"))
        .isEqualTo(List.of(kept));
    assertThat(
            cluster.query("production", "SELECT percent FROM fares.concession WHERE code = 'PET'"))
        .isEqualTo(List.of("0"));
  }
}
