package plenzo.store;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Instant;
import java.util.List;
import java.util.Random;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import plenzo.core.component.ComponentKey;
import plenzo.core.digest.Digest;
import plenzo.core.history.HistoryEntry;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.keeping.Keeper;
import plenzo.core.keeping.Kept;
import plenzo.core.source.Repository;
import plenzo.core.stage.Application;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.core.version.Need;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.core.version.VersionEntry;
import plenzo.core.version.VersionHead;

class KeeperTest {
  @TempDir Path folder;

  private Keeper open() {
    return new H2Keeper(folder, () -> "service-1", H2Keeper.ROOM);
  }

  private static Application application(String key) {
    return Application.registered("id-" + key, key, "Fares", "Tickets", "fares", "ordinary");
  }

  /** Commits one row after the other, says so, and waits to be killed. */
  public static final class Writer {
    public static void main(String[] args) throws InterruptedException {
      Keeper keeper = new H2Keeper(Path.of(args[0]), () -> "service-1", H2Keeper.ROOM);
      for (int i = 0; i < 3; i++) {
        String key = "a" + i;
        keeper.write(
            kept -> {
              kept.applications().insert(application(key));
              return null;
            });
      }
      System.out.println("committed");
      Thread.sleep(60_000);
    }
  }

  @Test
  void findsWhatWasCommittedRightBeforeAKill() throws Exception {
    String classes =
        System.getProperty("surefire.test.class.path", System.getProperty("java.class.path"));
    Process writer =
        new ProcessBuilder(
                "java", "-Xmx256m", "-cp", classes, Writer.class.getName(), folder.toString())
            .redirectErrorStream(true)
            .start();
    try (BufferedReader said =
        new BufferedReader(
            new InputStreamReader(writer.getInputStream(), StandardCharsets.UTF_8))) {
      assertThat(said.readLine()).isEqualTo("committed");
      writer.destroyForcibly().waitFor();
    }

    try (Keeper keeper = open()) {
      List<String> found =
          keeper.read(kept -> kept.applications().all()).stream()
              .map(Application::key)
              .sorted()
              .toList();
      assertThat(found).containsExactly("a0", "a1", "a2");
    }
  }

  private static Repository place(String folder) {
    return new Repository(
        "https://git.example/fares",
        "x/".repeat(480) + folder,
        "main",
        "",
        Repository.Follow.NOTHING,
        "v");
  }

  /** Most of a file is past after a while; nothing of what is there goes with it. */
  @Test
  void isMadeShortBeforeItIsOpened() throws Exception {
    Path left;
    long events;
    try (Keeper keeper = open()) {
      keeper.write(
          kept -> {
            kept.applications().insert(application("fares"));
            return null;
          });
      for (int i = 0; i < 1000; i++) {
        String name = "folder-" + i;
        keeper.write(
            kept -> {
              Application now = kept.applications().find("fares").orElseThrow();
              assertThat(kept.applications().update(now.at(place(name)))).isTrue();
              kept.note(Event.of("ines", "application changed", "once more"), Instant.EPOCH);
              return null;
            });
      }
      events = keeper.read(Kept::head).number();
      left = leftByAKill();
    }
    Path file = left.resolve("records.mv.db");
    long before = Files.size(file);
    assertThat(Shortening.of(file, before)).as("no larger than what is left alone").isFalse();

    assertThat(Shortening.of(file, 1 << 20)).isTrue();

    assertThat(Files.size(file)).isLessThan(before / 4);
    assertThat(Shortening.of(file, 1 << 10)).as("there is nothing to gain").isFalse();
    try (Keeper keeper = new H2Keeper(left, () -> "another", 1 << 20)) {
      assertThat(keeper.service()).isEqualTo("service-1");
      assertThat(keeper.read(kept -> kept.applications().find("fares").orElseThrow()).repository())
          .isEqualTo(place("folder-999"));
      assertThat(keeper.read(Kept::head).number()).isEqualTo(events);
    }
  }

  /**
   * Once room in the file is free again, parts are written into the gaps; what was committed must
   * be found there too. A copy of the file, taken right after a commit, is what a kill leaves.
   */
  @Test
  void findsEveryCommitInAFileWithGaps() throws Exception {
    Random random = new Random(5);
    try (Keeper keeper = open();
        Connection beside = DriverManager.getConnection(url(folder), "plenzo", "");
        Statement s = beside.createStatement()) {
      s.execute("SET RETENTION_TIME 0");
      for (int i = 1; i <= 240; i++) {
        Application next =
            Application.registered(
                "id-" + i,
                "a" + i,
                "F".repeat(200 + random.nextInt(9000)),
                "",
                "fares",
                "ordinary");
        keeper.write(
            kept -> {
              kept.applications().insert(next);
              kept.note(Event.of("ines", "application registered", next.key()), Instant.EPOCH);
              return null;
            });
        if (i % 4 == 0) {
          assertThat(applicationsIn(leftByAKill())).as("after commit " + i).isEqualTo(i);
        }
      }
    }
  }

  /** Otherwise a full disk would end the records when somebody looks. */
  @Test
  void writesNothingWhenItReads() throws IOException {
    try (Keeper keeper = open()) {
      SiteRecord record = SiteRecord.none("fares", new SiteKey("test", "main"));
      keeper.write(
          kept -> {
            kept.applications().insert(application("fares"));
            kept.sites().insert(record);
            return null;
          });
      for (int i = 0; i < 30; i++) {
        keeper.write(
            kept ->
                kept.sites().update(kept.sites().find(record.id()).orElseThrow().unreachable()));
      }
      byte[] before = Files.readAllBytes(folder.resolve("records.mv.db"));
      for (int i = 0; i < 20; i++) {
        List<Application> found = keeper.read(kept -> kept.applications().all());
        assertThat(found).hasSize(1);
      }
      assertThat(Files.readAllBytes(folder.resolve("records.mv.db"))).isEqualTo(before);
    }
  }

  private Path leftByAKill() throws IOException {
    Path left = Files.createDirectories(folder.resolve("left"));
    Files.copy(
        folder.resolve("records.mv.db"),
        left.resolve("records.mv.db"),
        StandardCopyOption.REPLACE_EXISTING);
    return left;
  }

  private static String url(Path folder) {
    return "jdbc:h2:file:" + folder.resolve("records");
  }

  private static long applicationsIn(Path folder) throws SQLException {
    try (Connection c = DriverManager.getConnection(url(folder), "plenzo", "");
        Statement s = c.createStatement();
        ResultSet r = s.executeQuery("SELECT count(*) FROM application")) {
      r.next();
      return r.getLong(1);
    }
  }

  @Test
  void refusesASecondServiceInOneSentence() throws Exception {
    String classes =
        System.getProperty("surefire.test.class.path", System.getProperty("java.class.path"));
    Process first =
        new ProcessBuilder(
                "java", "-Xmx256m", "-cp", classes, Writer.class.getName(), folder.toString())
            .redirectErrorStream(true)
            .start();
    try (BufferedReader said =
        new BufferedReader(new InputStreamReader(first.getInputStream(), StandardCharsets.UTF_8))) {
      assertThat(said.readLine()).isEqualTo("committed");

      assertThatThrownBy(this::open)
          .isInstanceOf(IllegalStateException.class)
          .hasMessageStartingWith("Another Plenzo service has the records in")
          .hasMessageContaining("stop it first");
    } finally {
      first.destroyForcibly().waitFor();
    }
  }

  @Test
  void losesTheUpdateWhenTheRevisionMoved() {
    try (Keeper keeper = open()) {
      SiteRecord record = SiteRecord.none("fares", new SiteKey("test", "main"));
      keeper.write(
          kept -> {
            kept.sites().insert(record);
            return null;
          });
      SiteRecord read = keeper.read(kept -> kept.sites().find(record.id())).orElseThrow();
      SiteRecord placed =
          read.placed(
              new SiteRecord.Placement(new SemVer("1.0.0"), "adopted", null, Instant.EPOCH, "ines"),
              List.of(),
              null,
              SiteRecord.Look.NONE);

      boolean first = keeper.write(kept -> kept.sites().update(placed));
      boolean second = keeper.write(kept -> kept.sites().update(read.unreachable()));

      assertThat(first).isTrue();
      assertThat(second).isFalse();
      assertThat(keeper.read(kept -> kept.sites().find(record.id())).orElseThrow().present())
          .isEqualTo(new SemVer("1.0.0"));
    }
  }

  @Test
  void undoesEverythingOfATransactionThatFails() {
    try (Keeper keeper = open()) {
      assertThatThrownBy(
              () ->
                  keeper.write(
                      kept -> {
                        kept.applications().insert(application("fares"));
                        kept.note(
                            Event.of("ines", "application registered", "Fares"), Instant.EPOCH);
                        throw new IllegalStateException("stop");
                      }))
          .hasMessage("stop");

      List<Application> applications = keeper.read(kept -> kept.applications().all());
      List<HistoryEntry> history =
          keeper.read(kept -> kept.history(Kept.HistoryFilter.part(0, 10)));
      assertThat(applications).isEmpty();
      assertThat(history).isEmpty();
    }
  }

  @Test
  void chainsItsHistorySoThatAnEditShows() throws Exception {
    try (Keeper keeper = open()) {
      for (String text : List.of("one", "two", "three")) {
        keeper.write(kept -> kept.note(Event.of("ines", "sealed", text), Instant.EPOCH));
      }
    }
    try (Connection c =
            DriverManager.getConnection(
                "jdbc:h2:file:" + folder.resolve("records").toAbsolutePath(), "plenzo", "");
        Statement s = c.createStatement()) {
      s.execute("UPDATE history SET text = 'forged' WHERE sequence = 2");
    }

    try (Keeper keeper = open()) {
      List<HistoryEntry> all = keeper.read(kept -> kept.history(Kept.HistoryFilter.part(0, 10)));
      assertThat(all).extracting(HistoryEntry::sequence).containsExactly(3L, 2L, 1L);
      assertThat(all)
          .extracting(e -> e.computedHash().equals(e.hash()))
          .containsExactly(true, false, true);
      assertThat(all.get(0).before()).isEqualTo(all.get(1).hash());
      assertThat(all.get(2).before()).isEqualTo(HistoryEntry.START);
    }
  }

  private static Version empty(String application, String number) {
    return Version.of(
        application,
        new SemVer(number),
        null,
        List.of(),
        List.of(),
        List.of(),
        List.of(),
        "",
        "",
        List.of(),
        "ines",
        Instant.EPOCH,
        "development/main");
  }

  @Test
  void findsVersionsOfEveryApplicationByHowTheirNumberBegins() {
    try (Keeper keeper = open()) {
      keeper.write(
          kept -> {
            kept.versions().insert(empty("fares", "2.4.0"));
            kept.versions().insert(empty("sailings", "2.4.1"));
            kept.versions().insert(empty("fares", "12.4.0"));
            kept.versions().insert(empty("fares", "2.40.0"));
            return null;
          });

      assertThat(numbered(keeper, "2.4.", 9)).containsExactly("sailings@2.4.1", "fares@2.4.0");
      assertThat(numbered(keeper, "2.4", 1)).containsExactly("fares@2.40.0");
      assertThat(numbered(keeper, "%", 9)).as("no letters but those of numbers").isEmpty();
      assertThat(numbered(keeper, "_", 9)).isEmpty();
      assertThat(numbered(keeper, "", 9)).isEmpty();
    }
  }

  private static List<String> numbered(Keeper keeper, String begins, int most) {
    return keeper.read(kept -> kept.versions().numbered(begins, most)).stream()
        .map(v -> v.ref())
        .toList();
  }

  @Test
  void keepsAVersionOfManyComponentsAndWhatIsSaidOfIt() {
    List<VersionEntry> entries =
        IntStream.range(0, 2500)
            .mapToObj(
                n ->
                    new VersionEntry(
                        ComponentKey.of("file/fares/" + n + ".txt"),
                        "uid-" + n,
                        Digest.of("content " + n),
                        null,
                        0,
                        "development/main"))
            .toList();
    Version version =
        Version.of(
            "fares",
            new SemVer("2.4.0"),
            null,
            entries,
            List.of(),
            List.of(Need.of("sailings >=1.8.0")),
            List.of(),
            "Summer fares",
            "",
            List.of("FERRY-118"),
            "ines",
            Instant.parse("2026-06-01T10:00:00Z"),
            "development/main");
    try (Keeper keeper = open()) {
      keeper.write(
          kept -> {
            kept.versions().insert(version);
            return null;
          });
    }
    try (Keeper keeper = open()) {
      assertThat(keeper.<Version>read(kept -> kept.versions().find("fares@2.4.0").orElseThrow()))
          .isEqualTo(version);
      assertThat(keeper.<List<VersionHead>>read(kept -> kept.versions().list("fares")))
          .containsExactly(version.head());
      keeper.write(
          kept -> {
            kept.versions().update(version.head().withdraw());
            return null;
          });
      Version now = keeper.read(kept -> kept.versions().find("fares@2.4.0").orElseThrow());
      assertThat(now.head().withdrawn()).isTrue();
      assertThat(now.entries()).isEqualTo(version.entries());
      assertThat(keeper.<Boolean>read(kept -> kept.versions().head("fares@9.9.9").isPresent()))
          .isFalse();
    }
  }
}
