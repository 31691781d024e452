package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.util.List;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import plenzo.core.plan.Plan;

/** A table of as many columns as the server allows. */
class WideTableOnPostgresTest extends OnPostgres {
  private static final List<String> TYPES =
      List.of("integer", "text", "numeric(8,2)", "date", "fares.mood", "text[]", "boolean");

  WideTableOnPostgresTest() {
    super("wide");
  }

  private static String type(int n) {
    return TYPES.get(n % TYPES.size());
  }

  private static String laid(int width) {
    return "CREATE TYPE fares.mood AS ENUM ('calm', 'rough'); CREATE TABLE fares.wide (key text PRIMARY KEY, "
        + IntStream.range(1, width)
            .mapToObj(n -> "c" + n + " " + type(n))
            .collect(Collectors.joining(", "))
        + "); INSERT INTO fares.wide (key, c1, c2, c3, c4, c5, c6, c"
        + (width - 1)
        + ") VALUES"
        + " ('a', 'A', 1.50, '2026-01-01', 'calm', '{x,\"y,z\",NULL}', true, NULL),"
        + " ('b \"q\" \\', NULL, NULL, NULL, NULL, NULL, NULL, NULL), ('c', 'C', 2, NULL, 'rough', '{}', false, NULL)";
  }

  private List<String> rows(String stage) {
    return cluster.query(stage, "SELECT md5(w::text) FROM fares.wide w ORDER BY key");
  }

  /** More columns than a function of the server takes arguments. */
  @Test
  void itsRowsComeAndGoBack() throws IOException {
    comeAndGoBack(249);
  }

  /** As many columns as a table of the server can have. */
  @Test
  @Tag("nightly")
  void theRowsOfTheWidestComeAndGoBack() throws IOException {
    comeAndGoBack(1600);
  }

  private void comeAndGoBack(int width) throws IOException {
    databases.lay(laid(width));
    try (EngineWorld world = engine()) {
      world.adopt(List.of("type/fares.mood", "table/fares.wide", "records/fares.wide"));
      List<String> before = rows("production");
      databases.as(
          "development",
          "UPDATE fares.wide SET c1 = E'back\\\\slash \"quoted\" {brace}', c4 = 'rough', c5 = '{a,\"b c\"}', c%d = 7, c%d = 'x' WHERE key LIKE 'b%%';"
                  .formatted(width - 2, width - 3)
              + "UPDATE fares.wide SET c2 = NULL WHERE key = 'a'; DELETE FROM fares.wide WHERE key = 'c';"
              + "INSERT INTO fares.wide (key, c3, c%d) VALUES ('d', '-infinity', '2026-02-02')"
                  .formatted(width - 1));
      world.sealEverything("1.1.0");
      world.bring("1.1.0");
      assertThat(rows("production")).isEqualTo(rows("development"));
      world.back(Plan.Way.EARLIER_VERSION);
      assertThat(rows("production")).isEqualTo(before);
    }
  }
}
