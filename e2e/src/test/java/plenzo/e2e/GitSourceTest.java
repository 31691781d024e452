package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.zip.ZipEntry;
import java.util.zip.ZipInputStream;
import org.awaitility.Awaitility;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestInstance;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.keeping.Kept;
import plenzo.core.problem.Problem;
import plenzo.core.source.Commits;
import plenzo.core.source.RefusedDocument;
import plenzo.core.source.Repository;
import plenzo.core.stage.SiteKey;
import plenzo.core.table.Column;
import plenzo.core.table.TableStructure;
import plenzo.core.testing.Ground;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.core.version.VersionEntry;
import plenzo.demo.BoardingRepository;
import plenzo.demo.Cluster;
import plenzo.engine.running.RunListener;
import plenzo.engine.sealing.Sources;
import plenzo.engine.setup.Adoption;

/** Versions out of a real repository. */
@TestInstance(TestInstance.Lifecycle.PER_CLASS)
class GitSourceTest {
  private final Started started = new Started();
  private static final Path ROOT = Ground.of("git-source");

  private Cluster cluster;
  private EngineWorld world;
  private BoardingRepository repository;
  private String first;
  private int versions;

  @BeforeAll
  void start() throws IOException {
    KillTest.clear(ROOT);
    cluster = started.add(new Cluster(ROOT.resolve("postgres"), /* flushed= */ false));
    world =
        started.add(new EngineWorld(ROOT.resolve("records"), cluster.port(), RunListener.NOBODY));
    repository = started.add(new BoardingRepository(ROOT.resolve("repository")));
    first = repository.commit(BoardingRepository.first(), "Check-in and lanes", "v1.0.0");
    world
        .engine
        .applications()
        .register(world.ines, "boarding", "Boarding", "Terminals", "boarding", "ordinary");
    keptIn(repository, Repository.Follow.NOTHING);
    world
        .engine
        .adoption()
        .adopt(
            world.ines, "boarding", EngineMain.SITE, new SemVer("0.0.0"), "Nothing yet", List.of());
  }

  @AfterAll
  void stop() {
    started.close();
  }

  /** From now on the application's documents are read there. */
  private void keptIn(BoardingRepository where, Repository.Follow follow) {
    Repository place = new Repository(where.folder().toString(), "", "main", "", follow, "v");
    world.engine.repositories().name(world.ines, "boarding", place, null, null);
  }

  private Version seal(String revision) {
    var draft = world.engine.drafts().start(world.ines, "boarding", new SemVer("0.0.0"));
    String commit = world.engine.sources().commit(world.ines, "boarding", revision).hash();
    SiteKey place = new SiteKey("git", commit);
    List<Adoption.Pick> picks =
        world
            .engine
            .sources()
            .against(world.ines, "boarding", place, new SemVer("0.0.0"))
            .components()
            .stream()
            .map(c -> new Adoption.Pick(c.key(), null, true))
            .toList();
    world.engine.drafts().add(world.ines, draft.id(), place, picks);
    world.engine.drafts().check(world.ines, draft.id());
    return world
        .engine
        .drafts()
        .seal(world.ines, draft.id(), EngineWorld.said("1.0." + versions++, "Lanes"));
  }

  @Test
  void sealsTheSameCommitToTheSameDigestAndRecordsIt() {
    Version one = seal("v1.0.0");
    Version two = seal(first.substring(0, 12));

    assertThat(two.digest()).isEqualTo(one.digest());
    assertThat(one.entries().stream().map(e -> e.key().toString()))
        .containsExactlyInAnyOrder(
            "file/boarding/lanes.html", "form/boarding.check-in", "rule/boarding.lane-choice");
    assertThat(one.source()).isEqualTo(repository.folder() + " at " + first);
    assertThat(world.engine.sources().commit(world.ines, "boarding", null).author())
        .contains("Sanna Voss");
  }

  @Test
  void keepsWhoWroteItSinceTheVersionBefore() {
    Version one = seal("v1.0.0");

    assertThat(one.head().written().commits()).containsExactly(first);
    assertThat(one.head().written().authors())
        .containsExactly("Sanna Voss <sanna@morrowick.example>");
    assertThat(
            world
                .engine
                .tools()
                .keeper()
                .read(kept -> kept.versions().head(one.ref()))
                .orElseThrow()
                .written())
        .isEqualTo(one.head().written());
  }

  @Test
  void tellsWhoChangedADocumentLastAndWhen() {
    Commits.Commit head = world.engine.sources().commit(world.ines, "boarding", null);
    Version sealed = seal("v1.0.0");

    List<Sources.SourceComponent> held =
        world
            .engine
            .sources()
            .against(world.ines, "boarding", new SiteKey(Sources.GIT, head.hash()), sealed.number())
            .components();

    assertThat(held)
        .filteredOn(c -> c.key().kind() != Kind.TABLE)
        .isNotEmpty()
        .allSatisfy(
            c -> {
              assertThat(c.last().by()).isEqualTo("Sanna Voss");
              assertThat(c.last().at()).isNotNull().isBeforeOrEqualTo(head.at());
            });
  }

  @Test
  void writesAVersionAsDocumentsThatGiveTheSameVersionAgain() throws IOException {
    Version sealed = seal("v1.0.0");
    ByteArrayOutputStream zip = new ByteArrayOutputStream();
    world.engine.documents().ofVersion(world.ines, "boarding", sealed.number(), zip);
    Map<String, String> documents = new TreeMap<>();
    try (ZipInputStream in = new ZipInputStream(new ByteArrayInputStream(zip.toByteArray()))) {
      for (ZipEntry e = in.getNextEntry(); e != null; e = in.getNextEntry()) {
        documents.put(e.getName(), new String(in.readAllBytes(), StandardCharsets.UTF_8));
      }
    }
    try (BoardingRepository other = new BoardingRepository(ROOT.resolve("other"))) {
      other.commit(documents, "As documents", "");
      keptIn(other, Repository.Follow.NOTHING);
      try {
        assertThat(seal("main").digest()).isEqualTo(sealed.digest());
      } finally {
        keptIn(repository, Repository.Follow.NOTHING);
      }
    }
  }

  @Test
  void readsObjectsAlone() throws IOException {
    Path hooks = Files.createDirectories(repository.folder().resolve(".git/hooks"));
    Path ran = ROOT.resolve("hook-ran");
    for (String hook : List.of("post-checkout", "reference-transaction", "post-index-change")) {
      Path file = Files.writeString(hooks.resolve(hook), "#!/bin/sh\ntouch " + ran + "\n");
      file.toFile().setExecutable(true);
    }
    Files.writeString(repository.folder().resolve(".gitattributes"), "*.html filter=shout\n");
    Files.writeString(
        repository.folder().resolve(".git/config"),
        Files.readString(repository.folder().resolve(".git/config"))
            + "[filter \"shout\"]\n\tsmudge = touch "
            + ran
            + "\n");

    Version v = seal("v1.0.0");

    assertThat(ran).doesNotExist();
    assertThat(v.entries()).hasSize(3);
    assertThat(v.entry(ComponentKey.of("file/boarding/lanes.html")).map(VersionEntry::origin))
        .contains("git/" + first);
  }

  @Test
  void refusesWhatIsNoDocumentAndNamesIt() throws IOException {
    try (BoardingRepository bad = new BoardingRepository(ROOT.resolve("bad"))) {
      bad.commit(
          Map.of(
              "definitions/rule/boarding.x.json",
              "{\"format\":1,\"kind\":\"rule\",\"name\":\"boarding.other\",\"definition\":{}}"),
          "Wrong name",
          "");
      Files.createDirectories(bad.folder().resolve("files/boarding"));
      Files.createSymbolicLink(
          bad.folder().resolve("files/boarding/up"), Path.of("../../../../etc/passwd"));
      bad.commit(Map.of(), "A link out", "");
      keptIn(bad, Repository.Follow.NOTHING);
      String commit = world.engine.sources().commit(world.ines, "boarding", null).hash();

      var found =
          world
              .engine
              .sources()
              .against(world.ines, "boarding", new SiteKey("git", commit), new SemVer("0.0.0"))
              .components();

      assertThat(found.stream().map(c -> c.key() + ": " + c.problem()))
          .anyMatch(s -> s.startsWith("rule/boarding.x: ") && s.contains("another kind or name"))
          .anyMatch(s -> s.startsWith("file/boarding/up: ") && s.contains("leads outside"));
      assertThatThrownBy(
              () -> world.engine.sources().commit(world.ines, "boarding", "no-such-branch"))
          .isInstanceOf(Problem.class)
          .hasMessageContaining("There is no branch, tag or commit \"no-such-branch\"");
      assertThatThrownBy(
              () -> world.engine.sources().commit(world.ines, "boarding", "HEAD^{/x}..main"))
          .isInstanceOf(Problem.class);
    } finally {
      keptIn(repository, Repository.Follow.NOTHING);
    }
  }

  /** A schema that is said to be the application's is no place outside of it. */
  @Test
  void aFurtherSchemaIsReadThereToo() throws IOException {
    try (BoardingRepository more = new BoardingRepository(ROOT.resolve("further"))) {
      String table = "{\"columns\":[],\"constraints\":[],\"indexes\":[]}";
      more.commit(
          Map.of(
              "tables/boarding.lane.json", table,
              "tables/lanes_old.lane.json", table,
              "tables/elsewhere.lane.json", table),
          "Two schemas",
          "");
      keptIn(more, Repository.Follow.NOTHING);
      assertThat(passedOver()).hasSize(2);
      further(List.of("lanes_old"));

      assertThat(passedOver()).singleElement().asString().contains("tables/elsewhere.lane.json");
      assertThat(held().components())
          .extracting(c -> c.key().toString())
          .contains("table/boarding.lane", "table/lanes_old.lane")
          .doesNotContain("table/elsewhere.lane");
    } finally {
      further(List.of());
      keptIn(repository, Repository.Follow.NOTHING);
    }
  }

  private List<String> passedOver() {
    return held().passedOver().stream().map(r -> r.path()).toList();
  }

  private plenzo.engine.sealing.Sources.Held held() {
    String commit = world.engine.sources().commit(world.ines, "boarding", null).hash();
    return world
        .engine
        .sources()
        .against(world.ines, "boarding", new SiteKey("git", commit), new SemVer("0.0.0"));
  }

  private void further(List<String> schemas) {
    world
        .engine
        .applications()
        .change(
            world.ines,
            "boarding",
            new plenzo.engine.setup.Applications.Facts(
                null, null, null, null, null, null, null, schemas),
            null);
  }

  /** A table without a key has its rows in a document as in a database; twins are refused there. */
  @Test
  void rowsOfATableWithoutAKeyAreReadFromADocument() throws IOException {
    String structure =
        new TableStructure(
                List.of(
                    new Column("a", "text", true, null, null, null, null, null),
                    new Column("b", "jsonb", false, null, null, null, null, null)),
                List.of(),
                List.of(),
                null)
            .canonical();
    String head = "\"a\",\"b\"\n\"text\",\"jsonb\"\n";
    try (BoardingRepository loose = new BoardingRepository(ROOT.resolve("loose"))) {
      Map<String, String> documents = new TreeMap<>();
      documents.put("tables/boarding.lane.json", structure);
      documents.put("records/boarding.lane.csv", head + "\"x\",\"[1]\"\n\"x\",\n");
      String commit = loose.commit(documents, "Lanes", "");
      keptIn(loose, Repository.Follow.NOTHING);

      assertThat(against(commit))
          .containsExactly("records/boarding.lane: ", "table/boarding.lane: ");
      assertThat(seal(commit).entries())
          .extracting(e -> e.key() + " " + e.rows())
          .contains("records/boarding.lane 2");

      documents.put("records/boarding.lane.csv", head + "\"x\",\n\"x\",\n");
      String twins = loose.commit(documents, "Twins", "");
      assertThatThrownBy(() -> seal(twins))
          .isInstanceOf(Problem.class)
          .hasMessageContaining("Two rows have the same key");

      documents.put("records/boarding.lane.csv", head + ",\"[1]\"\n");
      String empty = loose.commit(documents, "Nothing where something must be", "");
      assertThatThrownBy(() -> seal(empty))
          .isInstanceOf(Problem.class)
          .hasMessageContaining("the column a has no value");
    } finally {
      keptIn(repository, Repository.Follow.NOTHING);
    }
  }

  private List<String> against(String commit) {
    return world
        .engine
        .sources()
        .against(world.ines, "boarding", new SiteKey("git", commit), new SemVer("0.0.0"))
        .components()
        .stream()
        .map(c -> c.key() + ": " + c.problem())
        .sorted()
        .toList();
  }

  /** One broken document is one trouble; a version without it would not be the commit's. */
  @Test
  void leavesATagWithABrokenDocumentADraft() throws IOException {
    try (BoardingRepository broken = new BoardingRepository(ROOT.resolve("broken"))) {
      broken.commit(BoardingRepository.first(), "Check-in and lanes", "v8.0.0");
      keptIn(broken, Repository.Follow.SEAL);
      world.engine.sourceWatch().look("boarding");
      Map<String, String> documents = new TreeMap<>(lanes("8", ""));
      documents.put("tables/boarding.lane.json", "{");
      documents.put("tables/lane.json", "{}");
      String commit = broken.commit(documents, "Lanes as a table", "v8.1.0");

      assertThat(world.engine.sourceWatch().look("boarding").trouble())
          .contains("v8.1.0 stays the draft")
          .contains("table/boarding.lane cannot be carried")
          .contains("tables/lane.json cannot be carried");

      assertThat(numbers()).doesNotContain("8.1.0");
      var held =
          world
              .engine
              .sources()
              .against(world.ines, "boarding", new SiteKey("git", commit), new SemVer("0.0.0"));
      assertThat(held.components().stream().filter(c -> c.problem().isEmpty()))
          .as("the others go on")
          .extracting(c -> c.key().toString())
          .contains("rule/boarding.lane-choice", "file/boarding/lanes.html");
      assertThat(held.refused())
          .extracting(RefusedDocument::path)
          .containsExactly("tables/lane.json");
    } finally {
      keptIn(repository, Repository.Follow.NOTHING);
    }
  }

  private static Map<String, String> lanes(String lane, String extra) {
    return Map.of(
        "definitions/rule/boarding.lane-choice.json",
        "{\"format\":1,\"kind\":\"rule\",\"name\":\"boarding.lane-choice\",\"title\":\"Lanes\",\"definition\":{\"lane\":\""
            + lane
            + "\""
            + extra
            + "}}",
        "files/boarding/lanes.html",
        "<h1>Lanes</h1>\n<p>Coaches take lane " + lane + ".</p>\n");
  }

  private List<String> numbers() {
    return world
        .engine
        .versions()
        .list(world.ines, Kept.Filter.application("boarding"))
        .items()
        .stream()
        .map(v -> v.number().text())
        .toList();
  }

  @Test
  void makesNewTagsVersionsByThemselvesOnTheCommitsAuthorsName() {
    keptIn(repository, Repository.Follow.SEAL);
    try {
      int before = numbers().size();
      world.engine.sourceWatch().look("boarding");
      assertThat(numbers()).as("what was tagged before it was followed").hasSize(before);

      String hash = repository.commit(lanes("2", ""), "Coaches take lane 2", "v2.0.0");
      repository.commit(lanes("3", ""), "Not a number", "nightly");
      assertThat(world.engine.sourceWatch().look("boarding").trouble()).isEmpty();

      Version v = world.engine.versions().get(world.ines, "boarding", new SemVer("2.0.0"));
      assertThat(v.author()).isEqualTo("Sanna Voss <sanna@morrowick.example>");
      assertThat(v.title()).isEqualTo("Coaches take lane 2");
      assertThat(v.source()).endsWith(hash);
      assertThat(world.engine.sourceWatch().look("boarding").changed())
          .as("the branch went on after the tag")
          .isEqualTo(2);

      repository.commit(lanes("4", ",\"token\":\"s3cr3t\""), "Fourth lane", "v2.1.0");
      assertThat(world.engine.sourceWatch().look("boarding").trouble())
          .contains("v2.1.0 stays the draft")
          .contains("/definition/token")
          .doesNotContain("s3cr3t");
      assertThat(numbers()).contains("2.0.0").doesNotContain("2.1.0");
      whatWasNotPickedNamesItsAuthor();
      aSignedCallLooks();
      anOldCopyIsWarnedOf();
    } finally {
      keptIn(repository, Repository.Follow.NOTHING);
    }
  }

  private void anOldCopyIsWarnedOf() {
    Version newest = world.engine.versions().get(world.ines, "boarding", new SemVer("2.2.0"));
    assertThat(warning()).as("what was sealed today is not old").isEmpty();
    Version old =
        Version.of(
            "boarding",
            new SemVer("3.0.0"),
            newest.number(),
            newest.entries(),
            List.of(),
            List.of(),
            List.of(),
            "Sealed long ago",
            "",
            List.of(),
            "ines",
            Instant.parse("2020-02-01T10:00:00Z"),
            "elsewhere");
    world
        .engine
        .tools()
        .keeper()
        .write(
            kept -> {
              kept.versions().insert(old);
              return null;
            });
    world.engine.sourceWatch().look("boarding");
    assertThat(warning()).as("the source holds the same").isEmpty();

    repository.commit(lanes("6", ""), "Sixth lane", "later");
    world.engine.sourceWatch().look("boarding");
    assertThat(warning())
        .isEqualTo("The newest stored copy is 3.0.0 of 2020-02-01; the source has moved on since.");
  }

  private String warning() {
    return world.engine.standing().lines(world.ines).stream()
        .filter(l -> l.application().key().equals("boarding"))
        .findFirst()
        .orElseThrow()
        .warning();
  }

  private void whatWasNotPickedNamesItsAuthor() {
    String commit = world.engine.sources().commit(world.ines, "boarding", "nightly").hash();
    String draft = world.engine.drafts().start(world.ines, "boarding", new SemVer("2.0.0")).id();
    world
        .engine
        .drafts()
        .add(
            world.ines,
            draft,
            new SiteKey("git", commit),
            List.of(new Adoption.Pick(ComponentKey.of("rule/boarding.lane-choice"), null, true)));

    assertThat(world.engine.drafts().check(world.ines, draft).leftBehind().toString())
        .isEqualTo("[file/boarding/lanes.html, by Sanna Voss]");
  }

  private void aSignedCallLooks() {
    String secret = world.engine.sourceWatch().newHook(world.ines, "boarding");
    byte[] body = "{\"ref\":\"refs/tags/v2.2.0\"}".getBytes(StandardCharsets.UTF_8);
    repository.commit(lanes("5", ""), "Fifth lane", "v2.2.0");

    for (String wrong : List.of("", "sha256=", "sha256=" + signature(secret + "x", body))) {
      assertThat(world.engine.sourceWatch().called("boarding", body, name -> wrong)).isFalse();
    }
    assertThat(world.engine.sourceWatch().called("sailings", body, name -> signature("", body)))
        .isFalse();
    assertThat(numbers()).doesNotContain("2.2.0");

    assertThat(
            world
                .engine
                .sourceWatch()
                .called(
                    "boarding", body, Map.of("X-Other", "sha256=" + signature(secret, body))::get))
        .as("in a header that nobody named")
        .isFalse();
    assertThat(
            world
                .engine
                .sourceWatch()
                .called(
                    "boarding",
                    body,
                    Map.of(Repository.SIGNATURE, "sha256=" + signature(secret, body))::get))
        .isTrue();
    Awaitility.await()
        .atMost(java.time.Duration.ofSeconds(30))
        .until(() -> numbers().contains("2.2.0"));
  }

  private static String signature(String secret, byte[] body) {
    try {
      javax.crypto.Mac mac = javax.crypto.Mac.getInstance("HmacSHA256");
      mac.init(
          new javax.crypto.spec.SecretKeySpec(
              (secret.isEmpty() ? "-" : secret).getBytes(StandardCharsets.UTF_8), "HmacSHA256"));
      return java.util.HexFormat.of().formatHex(mac.doFinal(body));
    } catch (java.security.GeneralSecurityException e) {
      throw new IllegalStateException(e);
    }
  }
}
