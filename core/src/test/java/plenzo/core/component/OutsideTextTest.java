package plenzo.core.component;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatCode;

import java.io.ByteArrayInputStream;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import plenzo.core.digest.Digest;
import plenzo.core.history.Anchor;
import plenzo.core.item.Definition;
import plenzo.core.item.FileHead;
import plenzo.core.json.Json;
import plenzo.core.records.CanonicalCsv;
import plenzo.core.records.CanonicalRows;
import plenzo.core.records.CanonicalValue;
import plenzo.core.records.RecordsDefinition;
import plenzo.core.records.RowCondition;
import plenzo.core.stage.SiteKey;
import plenzo.core.table.TableStructure;
import plenzo.core.version.Need;
import plenzo.core.version.Removal;
import plenzo.core.version.SemVer;

/**
 * Whatever text comes from outside where a document, rows or a name is meant: it is read, or it is
 * refused by the one kind of error for what is none, with a sentence. {@code -Dfuzz.seed=N} repeats
 * a run, {@code -Dfuzz.rounds=N} makes it longer.
 */
class OutsideTextTest {
  private static final int ROUNDS = Integer.getInteger("fuzz.rounds", 4000);

  /** Reads a text; what it read, written again, where that is one text. */
  private interface Read {
    String from(String text) throws Exception;
  }

  /** What reads it, and texts that are right. */
  private record Sort(Read read, List<String> right) {}

  private static final Map<String, Sort> SORTS = new LinkedHashMap<>();

  static {
    SORTS.put(
        "table",
        new Sort(
            t -> TableStructure.of(t).canonical(),
            List.of(
                "{\"columns\":[{\"name\":\"code\",\"type\":\"text\",\"notNull\":true}],\"comment\":\"x\",\"constraints\":[],\"indexes\":[]}",
                "{\"columns\":[],\"constraints\":[],\"indexes\":[]}")));
    SORTS.put(
        "records",
        new Sort(
            t -> RecordsDefinition.of(Json.parse(t)).toString(),
            List.of(
                "{\"table\":\"fares.band\",\"key\":[\"code\"]}",
                "{\"table\":\"fares.band\",\"key\":[\"a\",\"b\"],\"condition\":{\"operator\":\"=\",\"column\":\"a\",\"value\":\"x\"}}")));
    SORTS.put(
        "condition",
        new Sort(
            t -> RowCondition.of(Json.parse(t)).toString(),
            List.of(
                "{\"operator\":\"and\",\"parts\":[{\"operator\":\"is null\",\"column\":\"a\"},{\"operator\":\"not\",\"parts\":[{\"operator\":\"<\",\"column\":\"b\",\"value\":\"3\"}]}]}")));
    SORTS.put(
        "definition",
        new Sort(
            t -> {
              Json json = Json.parse(t);
              Definition.of(ComponentKey.of("rule/fares.peak"), json);
              return json.canonical();
            },
            List.of(
                "{\"definition\":{\"factor\":\"2\"},\"format\":1,\"inputs\":[{\"description\":\"\",\"name\":\"gate\",\"secret\":false,\"type\":\"address\"}],\"kind\":\"rule\",\"name\":\"fares.peak\",\"references\":[{\"component\":\"table/fares.band\",\"how\":\"reads\"}],\"title\":\"Peak\"}")));
    SORTS.put(
        "rows",
        new Sort(
            OutsideTextTest::rows,
            List.of(
                "\"code\",\"amount\"\n\"text\",\"numeric(6,2)\"\n\"A\",\"3.00\"\n\"B\",\n",
                "\"id\"\n\"bigint\"\n\"1\"\n\"2\"\n")));
    SORTS.put(
        "line",
        new Sort(
            t -> CanonicalCsv.text(CanonicalCsv.fields(t.getBytes(StandardCharsets.UTF_8))),
            List.of("\"a\",,\"b\"\"c\"", "\"\"", "")));
    SORTS.put(
        "file",
        new Sort(
            t -> FileHead.of(t).toString(),
            List.of("{\"executable\":true}", "{\"link\":\"../a b\"}", "{}")));
    SORTS.put(
        "anchor",
        new Sort(
            t -> Anchor.of(t).text(), List.of("4711 " + "9f".repeat(32), "0 " + "00".repeat(32))));
    SORTS.put(
        "digest",
        new Sort(
            t -> Digest.of(t).toString(), List.of("sha256:" + "ab".repeat(32), "ab".repeat(32))));
    SORTS.put(
        "key",
        new Sort(t -> ComponentKey.of(t).toString(), List.of("table/fares.band", "file/a/b.txt")));
    SORTS.put(
        "order",
        new Sort(
            t -> Before.of(t).toString(),
            List.of("table/a.b before table/a.c", "rule/a before table/a.c")));
    SORTS.put(
        "need",
        new Sort(
            t -> Need.of(t).toString(),
            List.of("sailings >=1.1.0", "server/database >=9.0.0 <10.0.0")));
    SORTS.put(
        "removal",
        new Sort(t -> Removal.of(t).toString(), List.of("table/a.b", "table/a.b#column/c")));
    SORTS.put("site", new Sort(t -> SiteKey.of(t).toString(), List.of("production/north", "test")));
    SORTS.put("number", new Sort(t -> new SemVer(t).toString(), List.of("1.2.3", "10.0.0")));
    SORTS.put(
        "value",
        new Sort(
            t -> {
              int at = t.indexOf('=');
              return at < 0 ? t : CanonicalValue.of(t.substring(0, at), t.substring(at + 1));
            },
            List.of(
                "numeric(6,2)=3.00",
                "boolean=t",
                "date=2027-01-31",
                "timestamp with time zone=2027-01-31 10:00:00+00",
                "uuid=00000000-0000-0000-0000-00000000000a",
                "bigint=-9",
                "bytea=\\x00ff",
                "time without time zone=10:00:00")));
  }

  private static String rows(String text) throws Exception {
    StringBuilder out = new StringBuilder();
    try (CanonicalRows rows =
        new CanonicalRows(new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8)), 1)) {
      for (var row = rows.next(); row != null; row = rows.next()) {
        out.append(row.keyLine()).append('\n');
      }
    }
    return out.toString();
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "table",
        "records",
        "condition",
        "definition",
        "rows",
        "line",
        "file",
        "anchor",
        "digest",
        "key",
        "order",
        "need",
        "removal",
        "site",
        "number",
        "value"
      })
  void isReadOrRefusedWithASentence(String name) {
    Sort sort = SORTS.get(name);
    long seed = Long.getLong("fuzz.seed", System.nanoTime());
    Random random = new Random(seed);
    for (String right : sort.right()) {
      assertThatCode(() -> sort.read().from(right))
          .as("what is right is read")
          .doesNotThrowAnyException();
    }
    for (int n = 0; n < ROUNDS; n++) {
      String text = mutated(sort.right().get(random.nextInt(sort.right().size())), random);
      try {
        sort.read().from(text);
      } catch (IllegalArgumentException e) {
        assertThat(e.getMessage()).as("seed %d: %s", seed, text).isNotBlank();
      } catch (Throwable e) {
        throw new AssertionError("seed " + seed + ": " + text, e);
      }
    }
  }

  /** Signs lost, doubled, swapped, of elsewhere; values of another type; a piece twice. */
  private static String mutated(String text, Random random) {
    StringBuilder out = new StringBuilder(text);
    for (int n = 1 + random.nextInt(4); n > 0 && !out.isEmpty(); n--) {
      int at = random.nextInt(out.length());
      switch (random.nextInt(7)) {
        case 0 -> out.deleteCharAt(at);
        case 1 -> out.insert(at, (char) random.nextInt(0x2100));
        case 2 -> out.setCharAt(at, out.charAt(random.nextInt(out.length())));
        case 3 -> out.insert(at, out.substring(at, Math.min(out.length(), at + 9)));
        case 4 -> out.setLength(at);
        case 5 ->
            out.insert(
                at,
                List.of("null", "[]", "{}", "-1", "\n", "\"", "1e9", "99999999999999999999")
                    .get(random.nextInt(8)));
        default -> swap(out, random);
      }
    }
    return out.toString();
  }

  private static void swap(StringBuilder out, Random random) {
    var values =
        java.util.regex.Pattern.compile("(?<=[:,\\[])(\"[^\"]*\"|\\[[^\\[\\]]*\\]|[a-z0-9]+)")
            .matcher(out)
            .results()
            .toList();
    if (!values.isEmpty()) {
      var v = values.get(random.nextInt(values.size()));
      out.replace(
          v.start(),
          v.end(),
          List.of("null", "{}", "[null]", "3", "\"\"", "true").get(random.nextInt(6)));
    }
  }
}
