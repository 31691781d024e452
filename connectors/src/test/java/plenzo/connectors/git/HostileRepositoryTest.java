package plenzo.connectors.git;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.TreeMap;
import org.eclipse.jgit.internal.storage.file.FileRepository;
import org.eclipse.jgit.lib.CommitBuilder;
import org.eclipse.jgit.lib.Constants;
import org.eclipse.jgit.lib.FileMode;
import org.eclipse.jgit.lib.ObjectId;
import org.eclipse.jgit.lib.ObjectInserter;
import org.eclipse.jgit.lib.PersonIdent;
import org.eclipse.jgit.lib.TreeFormatter;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.item.ItemSeen;
import plenzo.core.source.RefusedDocument;
import plenzo.core.source.Repository;
import plenzo.core.target.ItemsLooking;
import plenzo.core.target.Looking;
import plenzo.core.target.TablesLooking;

/** Repositories by somebody who means harm, or who made a mistake in one document. */
class HostileRepositoryTest {
  private static final PersonIdent AUTHOR =
      new PersonIdent(
          "Sanna Voss", "sanna@morrowick.example", Instant.EPOCH, java.time.ZoneOffset.UTC);
  private static final String TABLE =
      """
      {"format": 1, "kind": "table", "name": "boarding.lane"}
      """;

  @TempDir Path folder;
  private FileRepository git;
  private ObjectInserter objects;

  @BeforeEach
  void repository() throws IOException {
    git = new FileRepository(folder.resolve("hostile.git").toFile());
    git.create(/* bare= */ true);
    objects = git.newObjectInserter();
  }

  @AfterEach
  void close() {
    objects.close();
    git.close();
  }

  private ObjectId blob(String text) throws IOException {
    return objects.insert(Constants.OBJ_BLOB, text.getBytes(StandardCharsets.UTF_8));
  }

  /** A folder whose entries have these names, which Git itself would refuse in part. */
  private ObjectId tree(FileMode mode, Map<String, ObjectId> entries) throws IOException {
    TreeFormatter tree = new TreeFormatter();
    for (Map.Entry<String, ObjectId> e : entries.entrySet()) {
      byte[] name = e.getKey().getBytes(StandardCharsets.UTF_8);
      tree.append(name, 0, name.length, mode, e.getValue(), /* allowEmptyName= */ true);
    }
    return objects.insert(tree);
  }

  private Map<Kind.Holder, Looking> look(ObjectId root, String below) throws IOException {
    CommitBuilder commit = new CommitBuilder();
    commit.setTreeId(root);
    commit.setAuthor(AUTHOR);
    commit.setCommitter(AUTHOR);
    commit.setMessage("x");
    ObjectId id = objects.insert(commit);
    objects.flush();
    return new GitCommits(folder.resolve("copies"))
        .look(
            new Repository(
                git.getDirectory().toString(), below, "main", "", Repository.Follow.NOTHING, "v"),
            "",
            id.getName());
  }

  private static List<ItemSeen> items(Looking looking, String scope) {
    List<ItemSeen> out = new ArrayList<>();
    ((ItemsLooking) looking).inventory(scope, out::add);
    return out;
  }

  private ObjectId documents(Map<String, String> names, String... path) throws IOException {
    Map<String, ObjectId> blobs = new TreeMap<>();
    for (Map.Entry<String, String> e : names.entrySet()) {
      blobs.put(e.getKey(), blob(e.getValue()));
    }
    ObjectId at = tree(FileMode.REGULAR_FILE, blobs);
    for (int n = path.length - 1; n >= 0; n--) {
      at = tree(FileMode.TREE, Map.of(path[n], at));
    }
    return at;
  }

  /** Each folder holds the one below ten times: thirty objects name 10^30 folders. */
  private ObjectId bomb(int levels, ObjectId deepest) throws IOException {
    ObjectId at = deepest;
    for (int level = 0; level < levels; level++) {
      Map<String, ObjectId> ten = new TreeMap<>();
      for (int n = 0; n < 10; n++) {
        ten.put("t" + n, at);
      }
      at = tree(FileMode.TREE, ten);
    }
    return at;
  }

  @Test
  void whatLiesInTheWrongPlaceIsNamedAndTheRestGoesOn() throws IOException {
    ObjectId root =
        tree(
            FileMode.TREE,
            new TreeMap<>(
                Map.of(
                    "tables", documents(Map.of("sailings.berth.json", "{}", "lane.txt", "x")),
                    "files",
                        tree(
                            FileMode.TREE,
                            new TreeMap<>(
                                Map.of(
                                    "board", documents(Map.of("b.txt", "b", "c.txt", "c")),
                                    "boarding", documents(Map.of("a.txt", "a"))))),
                    "definitions", documents(Map.of("README.md", "x", "rule.json", "{}")))));

    try (Looking look = look(root, "").get(Kind.Holder.DIRECTORY)) {
      assertThat(look.passedOver("boarding"))
          .extracting(RefusedDocument::path)
          .containsExactly("files/board/", "tables/sailings.berth.json");
      assertThat(look.refused())
          .extracting(RefusedDocument::path)
          .containsExactlyInAnyOrder("tables/lane.txt", "definitions/rule.json");
      assertThat(items(look, "boarding")).hasSize(1);
    }
  }

  @Test
  void walksNoTreesWithinTreesForEver() throws IOException {
    ObjectId root = tree(FileMode.TREE, Map.of("files", bomb(30, tree(FileMode.TREE, Map.of()))));
    Instant began = Instant.now();

    assertThatThrownBy(() -> look(root, ""))
        .isInstanceOf(IllegalArgumentException.class)
        .hasMessageContaining("more than 300000 names");
    assertThat(Duration.between(began, Instant.now())).isLessThan(Duration.ofSeconds(60));
  }

  @Test
  void readsNoMoreDocumentsThanItPromises() throws IOException {
    ObjectId root =
        tree(FileMode.TREE, Map.of("files", bomb(6, documents(Map.of("a", "a", "b", "b")))));

    assertThatThrownBy(() -> look(root, ""))
        .isInstanceOf(IllegalArgumentException.class)
        .hasMessageContaining("more than 100000 documents");
  }

  @Test
  void goesNoDeeperThanAnybodyFiles() throws IOException {
    ObjectId at = documents(Map.of("a", "a"));
    for (int n = 0; n < 70; n++) {
      at = tree(FileMode.TREE, Map.of("d", at));
    }
    ObjectId root = tree(FileMode.TREE, Map.of("files", at));

    assertThatThrownBy(() -> look(root, ""))
        .isInstanceOf(IllegalArgumentException.class)
        .hasMessageContaining("64 folders");
  }

  /** What lies elsewhere is none of ours, and costs nothing. */
  @Test
  void entersNothingThatIsNotOurs() throws IOException {
    ObjectId bomb = bomb(30, tree(FileMode.TREE, Map.of()));
    ObjectId ours = documents(Map.of("lanes.html", "<p>"), "boarding");
    ObjectId below = tree(FileMode.TREE, new TreeMap<>(Map.of("files", ours, "target", bomb)));
    ObjectId root = tree(FileMode.TREE, new TreeMap<>(Map.of("plenzo", below, "vendor", bomb)));

    Map<Kind.Holder, Looking> look = look(root, "plenzo");
    try (Looking files = look.get(Kind.Holder.DIRECTORY)) {
      assertThat(items(files, "boarding"))
          .extracting(i -> i.key().toString())
          .containsExactly("file/boarding/lanes.html");
      assertThat(files.refused()).isEmpty();
    }
  }

  /** A name that cannot be a component's is named, and the others go on. */
  @Test
  void refusesOneDocumentForWhatItIs() throws IOException {
    ObjectId tables =
        documents(Map.of("boarding.lane.json", TABLE, "lane.json", TABLE, ".json", TABLE));
    ObjectId files =
        documents(
            Map.of("lanes.html", "<p>", "back\\slash", "x", "bell\u0007", "x", "e\u0301", "x"),
            "boarding");
    ObjectId definitions =
        tree(
            FileMode.TREE,
            new TreeMap<>(
                Map.of(
                    "rule", documents(Map.of("boarding.lane.json", "{}")),
                    "ruel", documents(Map.of("boarding.lane.json", "{}")))));
    ObjectId root =
        tree(
            FileMode.TREE,
            new TreeMap<>(Map.of("tables", tables, "files", files, "definitions", definitions)));

    Map<Kind.Holder, Looking> look = look(root, "");
    try (Looking any = look.get(Kind.Holder.DIRECTORY)) {
      assertThat(any.refused())
          .extracting(RefusedDocument::path)
          .containsExactlyInAnyOrder(
              "definitions/ruel/boarding.lane.json",
              "files/boarding/back\\slash",
              "files/boarding/bell\u0007",
              "files/boarding/e\u0301",
              "tables/lane.json",
              "tables/.json");
      assertThat(any.refused())
          .extracting(RefusedDocument::why)
          .doesNotContain("")
          .allMatch(w -> !w.contains("Exception"));
      assertThat(items(any, "boarding")).hasSize(1);
      assertThat(((TablesLooking) look.get(Kind.Holder.DATABASE)).tables("boarding"))
          .containsExactly(new TableName("boarding", "lane"));
      assertThat(items(look.get(Kind.Holder.HOST), "boarding"))
          .singleElement()
          .satisfies(i -> assertThat(i.refusal()).isNotEmpty());
    }
  }

  /** Whatever stands in a document, it is read or refused in words. */
  @Test
  void readsOrRefusesWhateverIsWritten() throws IOException {
    long seed = Long.getLong("fuzz.seed", System.nanoTime());
    Random random = new Random(seed);
    List<String> starts =
        List.of(
            "{\"format\":1,\"kind\":\"table\",\"name\":\"b.t\",\"columns\":[]}",
            "{\"format\":1,\"kind\":\"rule\",\"name\":\"b.t\",\"definition\":{}}",
            "code,amount\ntext,\"numeric(6,2)\"\nA,3.00\nB,\n",
            "null",
            "[[[[[[");
    Map<String, String> tables = new TreeMap<>();
    Map<String, String> records = new TreeMap<>();
    Map<String, String> rules = new TreeMap<>();
    for (int n = 0; n < 300; n++) {
      String text = mutated(starts.get(random.nextInt(starts.size())), random);
      tables.put("b.t" + n + ".json", text);
      records.put("b.t" + n + ".csv", text);
      rules.put("b.t" + n + ".json", text);
    }
    ObjectId root =
        tree(
            FileMode.TREE,
            new TreeMap<>(
                Map.of(
                    "tables", documents(tables),
                    "records", documents(records),
                    "definitions", documents(rules, "rule"))));

    Map<Kind.Holder, Looking> look = look(root, "");
    try (TablesLooking database = (TablesLooking) look.get(Kind.Holder.DATABASE)) {
      for (TableName t : database.tables("b")) {
        allowed(seed, () -> database.table(t));
        allowed(
            seed,
            () -> {
              try (var rows =
                  database.rows(
                      new plenzo.core.records.RecordsDefinition(t, List.of("code"), null), null)) {
                while (rows.next() != null) {
                  // to the end
                }
              }
            });
      }
      assertThat(items(look.get(Kind.Holder.HOST), "b")).as("seed " + seed).hasSize(300);
    }
  }

  /** Read, or refused by the one kind of error for what is no document. */
  private static void allowed(
      long seed, org.assertj.core.api.ThrowableAssert.ThrowingCallable act) {
    try {
      act.call();
    } catch (IllegalArgumentException e) {
      assertThat(e.getMessage()).as("seed " + seed).isNotBlank();
    } catch (Throwable e) {
      throw new AssertionError("seed " + seed, e);
    }
  }

  private static String mutated(String text, Random random) {
    StringBuilder out = new StringBuilder(text);
    for (int n = random.nextInt(4); n > 0 && !out.isEmpty(); n--) {
      int at = random.nextInt(out.length());
      switch (random.nextInt(4)) {
        case 0 -> out.deleteCharAt(at);
        case 1 -> out.insert(at, (char) random.nextInt(0x250));
        case 2 -> out.setLength(at);
        default -> out.insert(at, out.substring(at));
      }
    }
    return out.toString();
  }
}
