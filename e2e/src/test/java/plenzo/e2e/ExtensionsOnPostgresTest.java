package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.util.List;
import org.junit.jupiter.api.Test;
import plenzo.core.version.Need;
import plenzo.core.version.Version;

/**
 * What a version's tables and routines use of extensions, its sites need, no older than its source.
 */
class ExtensionsOnPostgresTest extends OnPostgres {
  ExtensionsOnPostgresTest() {
    super("extensions");
  }

  private void as(String database, String sql) {
    cluster.sql(database, sql);
  }

  @Test
  void areNeededInTheVersionThatTheSourceHas() throws IOException {
    databases.lay("CREATE TABLE fares.zone (code text PRIMARY KEY)");
    try (EngineWorld world = engine()) {
      world.adopt(world.structures(EngineMain.SITE));
      as(
          "development",
          "CREATE EXTENSION citext SCHEMA public; CREATE EXTENSION hstore SCHEMA public");
      databases.as(
          "development",
          "CREATE TABLE fares.word (code text PRIMARY KEY, said public.citext); CREATE TABLE fares.plain (code text PRIMARY KEY)");
      String newest =
          cluster
              .query("development", "SELECT extversion FROM pg_extension WHERE extname = 'citext'")
              .get(0);

      Version version = world.sealStructures("1.1.0");

      assertThat(version.needs())
          .as("of what nothing uses nothing is said")
          .extracting(Need::toString)
          .containsExactly("extension/citext >=" + newest);
      assertThat(told(world))
          .contains(
              "BLOCKER 1.1.0 needs extension/citext >="
                  + newest
                  + ", and the database of production/main does not have it.");
      as("production", "CREATE EXTENSION citext SCHEMA public VERSION '1.4'");
      assertThat(told(world))
          .containsExactly(
              "RISK 1.1.0 needs extension/citext >="
                  + newest
                  + ", and the database of production/main has 1.4.");
      as("production", "ALTER EXTENSION citext UPDATE");
      assertThat(told(world)).isEmpty();
      assertThat(
              cluster.query(
                  "production", "SELECT count(*) FROM pg_extension WHERE extname = 'hstore'"))
          .containsExactly("0");
    }
  }

  private static List<String> told(EngineWorld world) {
    return world.promotion("1.1.0").findings().stream()
        .filter(f -> f.rule().equals("extension-version"))
        .map(f -> f.severity() + " " + f.sentence())
        .toList();
  }
}
