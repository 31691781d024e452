package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.util.List;
import java.util.function.Consumer;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import plenzo.core.component.ComponentKey;
import plenzo.core.impact.Finding;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;

/**
 * Columns that get another type, are split, joined or moved by what a person stated, with people's
 * rows in them, and back.
 */
class ConversionsOnPostgresTest extends OnPostgres {
  private static final ComponentKey BAND = ComponentKey.of("table/fares.band");
  private static final ComponentKey DESK = ComponentKey.of("table/fares.desk");

  private static final String BASE =
      "CREATE TABLE fares.zone (code text PRIMARY KEY, note text);"
          + "CREATE TABLE fares.band (id integer PRIMARY KEY, zone text NOT NULL REFERENCES fares.zone, price numeric(6,2) NOT NULL DEFAULT 1.5, kind text, since text);"
          + "CREATE TABLE fares.desk (id integer PRIMARY KEY, name text NOT NULL);"
          + "CREATE FUNCTION fares.deny() RETURNS trigger LANGUAGE plpgsql AS $$BEGIN RAISE 'nobody writes this'; END$$;"
          + "CREATE TRIGGER deny BEFORE UPDATE ON fares.desk FOR EACH ROW EXECUTE FUNCTION fares.deny();";

  private static final String ROWS =
      "INSERT INTO fares.zone VALUES ('N', 'north'), ('S', NULL);"
          + "INSERT INTO fares.band VALUES (1, 'N', 20.45, 'Car', '01.02.2024'), (2, 'S', 3, 'bike', NULL), (3, 'N', 0.07, NULL, '31.12.1999');"
          + "INSERT INTO fares.desk VALUES (1, 'Edda Marrow'), (2, 'Bram Oake');";

  private static final String NEXT =
      "CREATE TYPE fares.vehicle AS ENUM ('car', 'bike');"
          + "ALTER TABLE fares.band ALTER price DROP DEFAULT, ALTER price TYPE integer USING round(price * 100), ALTER price SET DEFAULT 150, ADD CHECK (price >= 0);"
          + "ALTER TABLE fares.band ALTER kind TYPE fares.vehicle USING lower(kind)::fares.vehicle, ALTER since TYPE date USING to_date(since, 'DD.MM.YYYY');"
          + "ALTER TABLE fares.band ADD zone_note text; ALTER TABLE fares.zone DROP note;"
          + "ALTER TABLE fares.desk DROP name, ADD first_name text NOT NULL DEFAULT '?', ADD last_name text, ADD UNIQUE (first_name, last_name);";

  ConversionsOnPostgresTest() {
    super("conversions");
  }

  @BeforeEach
  void world() {
    databases.lay(BASE);
    databases.as("production", ROWS);
  }

  private static Consumer<String> stated(EngineWorld world) {
    return draft -> {
      world.convert(draft, BAND, "price", "round(price * 100)::integer");
      world.convert(draft, BAND, "kind", "lower(kind)");
      world.convert(draft, BAND, "since", "to_date(since, 'DD.MM.YYYY')");
      world.convert(
          draft, BAND, "zone_note", "(SELECT z.note FROM fares.zone z WHERE z.code = band.zone)");
      world.convert(draft, DESK, "first_name", "split_part(name, ' ', 1)");
      world.convert(draft, DESK, "last_name", "split_part(name, ' ', 2)");
      world.convertBack(draft, BAND, "price", "price / 100.0");
      world.convertBack(draft, BAND, "since", "to_char(since, 'DD.MM.YYYY')");
      world.convertBack(draft, DESK, "name", "first_name || ' ' || last_name");
    };
  }

  private List<String> bands() {
    return cluster.query("production", "SELECT * FROM fares.band ORDER BY id");
  }

  private List<String> desks() {
    return cluster.query("production", "SELECT * FROM fares.desk ORDER BY id");
  }

  private static List<String> told(Promotion p) {
    return p.findings().stream()
        .filter(f -> f.rule().startsWith("conversion"))
        .map(Finding::sentence)
        .toList();
  }

  @ParameterizedTest
  @EnumSource(names = {"BACKUP", "EARLIER_VERSION"})
  void valuesAreWorkedOutAndComeBack(Plan.Way way) throws IOException {
    try (EngineWorld world = engine()) {
      world.adopt(world.structures(EngineMain.SITE));
      databases.as("development", NEXT);
      world.sealStructures("1.1.0", stated(world));
      List<String> before = bands();
      Promotion p = world.promotion("1.1.0");

      Run run = world.run(p);

      assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
      assertThat(told(p)).containsExactly("1 row gets no value in zone_note, though zone has one.");
      assertThat(bands())
          .containsExactly(
              "1|N|2045|car|2024-02-01|north",
              "2|S|300|bike|null|null",
              "3|N|7|null|1999-12-31|north");
      assertThat(desks()).containsExactly("1|Edda|Marrow", "2|Bram|Oake");
      assertThat(world.way(way).lossSentence())
          .as("what was asked elsewhere may be another by now, and is all that is counted")
          .isEqualTo("2 values of fares.band.zone_note would be lost.");
      databases.as(
          "production",
          "INSERT INTO fares.band VALUES (4, 'S', 1234, 'car', '2025-05-06', 'n'); UPDATE fares.band SET price = 2046 WHERE id = 1;"
              + "INSERT INTO fares.desk VALUES (3, 'Ines', 'Falk'); ALTER TABLE fares.desk DISABLE TRIGGER deny; UPDATE fares.desk SET last_name = 'Elm' WHERE id = 2;"
              // a backup writes rows as they were
              + (way == Plan.Way.BACKUP ? "" : "ALTER TABLE fares.desk ENABLE TRIGGER deny;"));

      assertThat(world.way(way).losses())
          .extracting(i -> i.count() + " " + i.place())
          .contains(way == Plan.Way.BACKUP ? "2 fares.band" : "3 fares.band.zone_note");
      Run back = world.run(world.compared(world.goBack(world.way(way)).number()));

      assertThat(back.state()).as(back.sentence()).isEqualTo(RunState.DONE);
      if (way == Plan.Way.BACKUP) {
        assertThat(bands()).isEqualTo(before);
        assertThat(desks()).containsExactly("1|Edda Marrow", "2|Bram Oake");
      } else {
        assertThat(bands())
            .containsExactly(
                "1|N|20.46|Car|01.02.2024",
                "2|S|3.00|bike|null",
                "3|N|0.07|null|31.12.1999",
                "4|S|12.34|car|06.05.2025");
        assertThat(desks()).containsExactly("1|Edda Marrow", "2|Bram Elm", "3|Ines Falk");
      }
      assertThat(cluster.query("production", "SELECT * FROM fares.zone ORDER BY code"))
          .containsExactly("N|north", "S|null");
    }
  }

  @Test
  void everyRowIsHeldAgainstWhatIsStated() throws IOException {
    try (EngineWorld world = engine()) {
      world.adopt(world.structures(EngineMain.SITE));
      databases.as("development", NEXT);
      databases.as(
          "production",
          "INSERT INTO fares.band VALUES (5, 'N', 1, 'boat', 'soon'), (6, 'N', -2, 'boat', 'later');"
              + "INSERT INTO fares.desk VALUES (7, 'Edda Marrow Elm');");
      world.sealStructures("1.1.0", stated(world));

      Promotion p = world.promotion("1.1.0");

      assertThat(told(p))
          .containsExactlyInAnyOrder(
              "since (date) cannot be worked out for 2 rows by to_date(since, 'DD.MM.YYYY').",
              "kind (text) cannot be worked out for 2 rows by lower(kind).",
              "1 row gets no value in zone_note, though zone has one.");
      assertThat(p.findings().stream().map(Finding::rule).toList())
          .contains("check-violated", "duplicate-in-unique");
      assertThat(
              p.findings().stream()
                  .filter(f -> f.rule().equals("conversion-fails"))
                  .flatMap(f -> f.examples().stream()))
          .contains("boat", "soon: invalid value \"so\" for \"DD\"");
    }
  }

  /**
   * Odd names and signs, values that quote, columns without a value, and one that reads nothing.
   */
  @Test
  void whatStandsInQuotesAndSignsIsTaken() throws IOException {
    databases.lay(
        "CREATE TABLE fares.\"Odd table\" (id integer PRIMARY KEY, \"the 'data'\" jsonb, note text)");
    databases.as(
        "production",
        "INSERT INTO fares.\"Odd table\" VALUES (1, '{\"a\": \"it''s\"}', 'x\\y''z'), (2, '{}', NULL), (3, NULL, '?')");
    try (EngineWorld world = engine()) {
      world.adopt(world.structures(EngineMain.SITE));
      databases.as(
          "development",
          "ALTER TABLE fares.\"Odd table\" ADD has boolean, ADD said text, ADD fixed integer NOT NULL");
      ComponentKey odd = ComponentKey.of("table/fares.Odd table");
      world.sealStructures(
          "1.1.0",
          draft -> {
            world.convert(draft, odd, "has", "\"the 'data'\" ? 'a'");
            world.convert(draft, odd, "said", "coalesce(\"Odd table\".note, 'none?')");
            world.convert(draft, odd, "fixed", "40 + 2");
          });

      Run run = world.run(world.promotion("1.1.0"));

      assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
      assertThat(
              cluster.query(
                  "production", "SELECT id, has, said, fixed FROM fares.\"Odd table\" ORDER BY id"))
          .containsExactly("1|t|x\\y'z|42", "2|f|none?|42", "3|null|?|42");
      databases.as(
          "production", "INSERT INTO fares.\"Odd table\" VALUES (4, NULL, NULL, true, 'late', 7)");
      assertThat(world.way(Plan.Way.EARLIER_VERSION).losses())
          .extracting(i -> i.count() + " " + i.place())
          .containsExactlyInAnyOrder(
              "1 fares.Odd table.has", "1 fares.Odd table.said", "1 fares.Odd table.fixed");
    }
  }
}
