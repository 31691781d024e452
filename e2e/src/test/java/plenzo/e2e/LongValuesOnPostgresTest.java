package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import plenzo.core.component.Kind;
import plenzo.core.digest.Digest;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.trust.Parcel;
import plenzo.core.version.Draft;
import plenzo.core.version.SemVer;
import plenzo.core.version.VersionEntry;
import plenzo.engine.content.Contents;
import plenzo.engine.packaging.Packages;

/** Values that are too long for their rows go through a whole promotion and come back. */
class LongValuesOnPostgresTest extends OnPostgres {
  private static final String TABLE =
      "CREATE TABLE fares.plan (code text PRIMARY KEY, drawing bytea, note text, page integer);";
  private static final List<String> PICKS = EngineWorld.both("plan");
  private static final String ALL =
      "SELECT code, page, octet_length(drawing), encode(sha256(drawing), 'hex'), octet_length(note), md5(note) FROM fares.plan ORDER BY code";

  LongValuesOnPostgresTest() {
    super("long-values");
  }

  @BeforeEach
  void world() {
    databases.lay(TABLE);
    for (String database : List.of("development", "production")) {
      databases.as(
          database,
          "INSERT INTO fares.plan SELECT 'deck', (SELECT string_agg(sha256(n::text::bytea), ''::bytea ORDER BY n) FROM generate_series(1, 132000) n), repeat('Fähre, \"Nord\" ', 600000), 1");
      databases.as(database, "INSERT INTO fares.plan VALUES ('pier', NULL, 'short', 2)");
    }
  }

  private List<String> all(String database) {
    return cluster.query(database, ALL);
  }

  @Test
  void goThroughAPromotionAndComeBack() throws IOException {
    goThroughAndComeBack(Plan.Way.EARLIER_VERSION);
  }

  @Tag("nightly")
  @Test
  void comeBackWhereAVersionDroppedThem() throws IOException {
    dropAndComeBack(Plan.Way.BACKUP);
  }

  @Tag("nightly")
  @Test
  void comeBackTheOtherWayToo() throws IOException {
    goThroughAndComeBack(Plan.Way.BACKUP);
    world();
    dropAndComeBack(Plan.Way.EARLIER_VERSION);
  }

  private void goThroughAndComeBack(Plan.Way way) throws IOException {
    List<String> before = all("production");
    try (EngineWorld world = engine()) {
      world.adopt(PICKS);
      databases.as(
          "development",
          "UPDATE fares.plan SET note = repeat('neu', 2800000), page = 3 WHERE code = 'deck'; UPDATE fares.plan SET drawing = decode(repeat('00ff', 2200000), 'hex') WHERE code = 'pier';"
              + "INSERT INTO fares.plan VALUES ('gate', decode(repeat('0a', 4200000), 'hex'), NULL, 4)");
      world.seal("1.1.0", PICKS);
      Promotion p = world.promotion("1.1.0");

      Run run = world.run(p);

      assertThat(run.state()).as(run.sentence() + p.findings()).isEqualTo(RunState.DONE);
      assertThat(run.sentence()).doesNotContain("to look at");
      assertThat(all("production")).isEqualTo(all("development"));

      Run back = world.run(world.compared(world.goBack(world.way(way)).number()));

      assertThat(back.state()).as(back.sentence()).isEqualTo(RunState.DONE);
      assertThat(all("production")).isEqualTo(before);
    }
  }

  /** What a version dropped comes back out of the backup, long values too. */
  private void dropAndComeBack(Plan.Way way) throws IOException {
    List<String> before = all("production");
    try (EngineWorld world = engine()) {
      world.adopt(List.of("table/fares.plan"));
      databases.as("development", "ALTER TABLE fares.plan DROP COLUMN drawing");
      world.seal("1.1.0", List.of("table/fares.plan"));
      Run run = world.run(world.promotion("1.1.0"));
      assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
      databases.as("production", "INSERT INTO fares.plan (code, note) VALUES ('new', 'since')");

      Run back = world.run(world.compared(world.goBack(world.way(way)).number()));

      assertThat(back.state()).as(back.sentence()).isEqualTo(RunState.DONE);
      databases.as("production", "DELETE FROM fares.plan WHERE code = 'new'");
      assertThat(all("production")).isEqualTo(before);
    }
  }

  /** A package carries them, and none of their bytes can be altered on the way. */
  @Test
  void travelInPackages() throws IOException {
    try (EngineWorld world = engine()) {
      world.adopt(PICKS);
      world.engine.keys().make(world.ines, "Office");
      Parcel built = world.engine.packages().build(world.ines, "fares", new SemVer("1.0.0"));
      byte[] file;
      try (InputStream in = world.engine.packages().handOut(world.ines, built.id())) {
        file = in.readAllBytes();
      }
      assertThat(file.length).as("what cannot be packed is in it").isGreaterThan(4_200_000);
      Packages at = world.engine.packages();
      assertThat(at.receive(world.ines, "a.zip", new ByteArrayInputStream(file), -1).parcel())
          .extracting(Parcel::manifest)
          .isEqualTo(built.manifest());

      Digest rows =
          world.engine.versions().get(world.ines, "fares", new SemVer("1.0.0")).entries().stream()
              .filter(e -> e.key().kind() == Kind.RECORDS)
              .map(VersionEntry::content)
              .findFirst()
              .orElseThrow();
      Contents contents = new Contents(world.engine.tools());
      byte[] content;
      try (InputStream in = contents.open(rows)) {
        content = in.readAllBytes();
      }
      assertThat(contents.put(Kind.RECORDS, new ByteArrayInputStream(content)).digest())
          .isEqualTo(rows);
      content[content.length / 2] ^= 1;
      assertThat(contents.put(Kind.RECORDS, new ByteArrayInputStream(content)).digest())
          .isNotEqualTo(rows);
      assertThatThrownBy(
              () ->
                  world
                      .engine
                      .documents()
                      .ofVersion(
                          world.ines,
                          "fares",
                          new SemVer("1.0.0"),
                          OutputStream.nullOutputStream()))
          .hasMessageContaining("has values of more than 8 MB, which no document carries");
    }
  }

  /** Where nothing else tells rows apart, a long value does not: that is said beforehand. */
  @Test
  void tellNoRowsApart() {
    databases.as(
        "development",
        "CREATE TABLE fares.scan (page bytea); INSERT INTO fares.scan SELECT drawing FROM fares.plan");
    databases.as(
        "production",
        "CREATE TABLE fares.scan (page bytea); INSERT INTO fares.scan SELECT drawing FROM fares.plan");
    try (EngineWorld world = engine()) {
      assertThat(world.candidate("scan").keyProblem())
          .isEqualTo(
              "it has no primary or unique key, and 1 row has a value of more than 8 MB, by which rows are not told apart");
    }
  }

  /** Most of a gigabyte in one value, by the client and a service with a heap of 256 MB. */
  @Test
  @Tag("nightly")
  void ofMostOfAGigabyteGoThroughAServiceOf256Megabytes() throws IOException {
    String drawing =
        "(SELECT string_agg(sha256(n::text::bytea), ''::bytea ORDER BY n) FROM generate_series(1, %d) n)";
    databases.as(
        "development",
        "UPDATE fares.plan SET drawing = "
            + drawing.formatted(25_000_000)
            + " WHERE code = 'deck'; UPDATE fares.plan SET note = repeat('Fähre, \"Nord\" ', 30000000) WHERE code = 'pier'");
    List<String> before = all("production");
    try (PairByClient client = new PairByClient(databases.nextCase(), cluster.port())) {
      client.adopt(List.of("plan"));
      client.bring();
      assertThat(all("production")).as(client.told()).isEqualTo(all("development"));
      client.goBack("backup");
      assertThat(all("production")).as(client.told()).isEqualTo(before);
    }
  }

  /** They stand in no table: rows come with their numbers alone. */
  @Test
  void whatALargeObjectHoldsIsSaidNotToCome() throws IOException {
    for (String database : List.of("development", "production")) {
      databases.as(
          database,
          "CREATE TABLE fares.photo (code text PRIMARY KEY, picture oid); INSERT INTO fares.photo VALUES ('deck', lo_from_bytea(0, '\\x0102'))");
    }
    try (EngineWorld world = engine()) {
      world.adopt(EngineWorld.both("photo"));
      assertThat(world.candidate("photo").risks())
          .containsExactly(
              "its column picture holds numbers that may be those of large objects: the numbers are carried, the objects are not");
      databases.as(
          "development", "INSERT INTO fares.photo VALUES ('pier', lo_from_bytea(0, '\\x0304'))");
      Draft draft = world.checked("records/fares.photo");
      assertThat(draft.findings())
          .filteredOn(f -> f.rule().equals("large-objects"))
          .extracting(f -> f.severity() + " " + f.place() + " " + f.sentence())
          .containsExactly(
              "RISK records/fares.photo 2 rows of fares.photo at the source hold in picture the number of a large object: the numbers are carried, the objects are not.");
      databases.as(
          "development", "UPDATE fares.photo SET picture = 1 WHERE code = 'deck' OR code = 'pier'");
      assertThat(world.engine.drafts().check(world.ines, draft.id()).findings())
          .filteredOn(f -> f.rule().equals("large-objects"))
          .extracting(f -> f.severity() + " " + f.sentence())
          .containsExactly(
              "NOTE No row of fares.photo at the source holds in picture the number of a large object that is there.");
      world.engine.drafts().seal(world.ines, draft.id(), EngineWorld.said("1.1.0", "Pictures"));

      Promotion p = world.promotion("1.1.0");

      assertThat(p.findings())
          .filteredOn(f -> f.rule().equals("large-objects"))
          .extracting(f -> f.severity() + " " + f.sentence())
          .containsExactly(
              "RISK Of the rows that come, its column picture holds numbers that may be those of large objects: the numbers are carried, the objects are not.");
    }
  }
}
