package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.EnumSource;
import plenzo.core.comparison.Decision;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.way.Obstacle;
import plenzo.engine.returning.Rollbacks;

/**
 * Going back on a real server while bookings use rows that the version being left brought: by
 * foreign keys that need a value or not, of two columns, and through rows that go along by
 * themselves. What was shown as loss is what is gone afterwards.
 */
class InUseOnPostgresTest extends OnPostgres {
  private static final List<String> CARRIED = List.of("table/fares.fare", "records/fares.fare");
  private static final String IN_USE = "records/fares.fare" + Obstacle.IN_USE;

  InUseOnPostgresTest() {
    super("in-use");
  }

  @BeforeEach
  void world() {
    databases.lay(
        "CREATE TABLE fares.fare (line integer, code text, price numeric(6,2) NOT NULL, PRIMARY KEY (line, code));"
            + "CREATE TABLE fares.booking (id integer PRIMARY KEY, line integer, code text, FOREIGN KEY (line, code) REFERENCES fares.fare);"
            + "CREATE TABLE fares.season (id integer PRIMARY KEY, line integer NOT NULL, code text NOT NULL, FOREIGN KEY (line, code) REFERENCES fares.fare);"
            + "CREATE TABLE fares.offer (id integer PRIMARY KEY, line integer, code text, FOREIGN KEY (line, code) REFERENCES fares.fare ON DELETE CASCADE);"
            + "CREATE TABLE fares.flyer (id integer PRIMARY KEY, offer integer REFERENCES fares.offer);"
            + "INSERT INTO fares.fare VALUES (1, 'FOOT', 3.50), (1, 'CAR', 24.00);"
            + "INSERT INTO fares.booking VALUES (1, 1, 'FOOT')");
  }

  /** As the records' canonical key has it. */
  private static String one(int line, String code) {
    return "records/fares.fare#row/\"" + line + "\",\"" + code + "\"";
  }

  /** 1.1.0 brings two fares, people use them, and one goes back with these choices. */
  private Rollbacks.Option wentBack(Plan.Way way, String since, Map<String, Decision> choices)
      throws IOException {
    try (EngineWorld world = engine()) {
      world.adopt(CARRIED);
      databases.as(
          "development", "INSERT INTO fares.fare VALUES (1, 'PET', 0.50), (2, 'FOOT', 4.00)");
      world.seal("1.1.0", CARRIED);
      Run there = world.run(world.promotion("1.1.0"));
      assertThat(there.state()).as(there.sentence()).isEqualTo(RunState.DONE);
      databases.as("production", since);
      Rollbacks.Option closed = world.way(way);
      assertThat(closed.possible()).isFalse();
      assertThat(closed.obstacles()).isNotEmpty();
      Rollbacks.Wish wish = new Rollbacks.Wish(null, choices);
      Rollbacks.Option open = world.way(way, wish);
      assertThat(open.possible()).as(open.why()).isTrue();
      long before = people();
      Promotion p = world.goBack(open, wish);
      Run back = world.run(world.compared(p.number()));
      assertThat(back.state()).as(back.sentence()).isEqualTo(RunState.DONE);
      assertThat(before - people()).as("what was shown as loss is gone").isEqualTo(open.lost());
      return open;
    }
  }

  /** Rows of people, and values by which they point at a fare. */
  private long people() {
    return Long.parseLong(
        cluster
            .query(
                "production",
                "SELECT (SELECT count(code) + count(line) FROM fares.booking) + (SELECT count(*) FROM fares.season) + (SELECT count(offer) FROM fares.flyer)")
            .get(0));
  }

  private List<String> fares() {
    return cluster.query(
        "production", "SELECT line || code FROM fares.fare ORDER BY line, code COLLATE \"C\"");
  }

  private static final String USED =
      "INSERT INTO fares.booking VALUES (2, 1, 'PET'); INSERT INTO fares.season VALUES (1, 2, 'FOOT')";

  @ParameterizedTest
  @EnumSource(names = "EARLIER_VERSION")
  void leavesWhatIsUsedAndLosesNothing(Plan.Way way) throws IOException {
    Rollbacks.Option open = wentBack(way, USED, Map.of(IN_USE, Decision.KEEP));

    assertThat(open.lost()).isZero();
    assertThat(open.obstacles().get(0).sentence())
        .isEqualTo(
            "2 rows of fares.fare that 1.1.0 brought are used by 1 row of fares.booking and 1 row of fares.season.");
    assertThat(fares()).containsExactly("1CAR", "1FOOT", "1PET", "2FOOT");
  }

  @Tag("nightly")
  @ParameterizedTest
  @EnumSource(names = "BACKUP")
  void leavesWhatIsUsedAndLosesNothingByTheOtherWay(Plan.Way way) throws IOException {
    leavesWhatIsUsedAndLosesNothing(way);
  }

  @ParameterizedTest
  @EnumSource(names = "BACKUP")
  void removesWhatHangsOnIt(Plan.Way way) throws IOException {
    wentBack(way, USED, Map.of(IN_USE, Decision.TAKE_INCOMING));

    assertThat(fares()).containsExactly("1CAR", "1FOOT");
    assertThat(cluster.query("production", "SELECT id FROM fares.booking ORDER BY id"))
        .as("a booking needs no fare")
        .containsExactly("1", "2");
    assertThat(cluster.query("production", "SELECT count(*) FROM fares.season"))
        .as("a season ticket does")
        .containsExactly("0");
  }

  @Tag("nightly")
  @ParameterizedTest
  @EnumSource(names = "EARLIER_VERSION")
  void removesWhatHangsOnItByTheOtherWay(Plan.Way way) throws IOException {
    removesWhatHangsOnIt(way);
  }

  @ParameterizedTest
  @CsvSource({"EARLIER_VERSION", "BACKUP"})
  void leavesOneAndRemovesTheOther(Plan.Way way) throws IOException {
    wentBack(
        way,
        USED,
        Map.of(
            one(1, "PET"), Decision.KEEP,
            one(2, "FOOT"), Decision.TAKE_INCOMING));

    assertThat(fares()).containsExactly("1CAR", "1FOOT", "1PET");
  }

  /** An offer goes with its fare by itself; the flyer that points at the offer would hold both. */
  @ParameterizedTest
  @EnumSource(names = "EARLIER_VERSION")
  void seesWhatHoldsARowThatGoesAlong(Plan.Way way) throws IOException {
    Rollbacks.Option open =
        wentBack(
            way,
            "INSERT INTO fares.offer VALUES (1, 1, 'PET'), (2, 2, 'FOOT'); INSERT INTO fares.flyer VALUES (1, 1)",
            Map.of(IN_USE, Decision.KEEP));

    assertThat(open.obstacles().get(0).rows())
        .singleElement()
        .satisfies(r -> assertThat(r.at()).isEqualTo(one(1, "PET")));
    assertThat(fares()).containsExactly("1CAR", "1FOOT", "1PET");
    assertThat(cluster.query("production", "SELECT id FROM fares.offer")).containsExactly("1");
  }

  @Tag("nightly")
  @ParameterizedTest
  @EnumSource(names = "BACKUP")
  void seesWhatHoldsARowThatGoesAlongByTheOtherWay(Plan.Way way) throws IOException {
    seesWhatHoldsARowThatGoesAlong(way);
  }

  @ParameterizedTest
  @EnumSource(names = "EARLIER_VERSION")
  void isNotAskedAboutWhatTheWayBackTakesAwayItself(Plan.Way way) throws IOException {
    List<String> both = new ArrayList<>(CARRIED);
    both.addAll(List.of("table/fares.season", "records/fares.season"));
    try (EngineWorld world = engine()) {
      world.adopt(both);
      databases.as(
          "development",
          "INSERT INTO fares.fare VALUES (1, 'PET', 0.50); INSERT INTO fares.season VALUES (1, 1, 'PET')");
      world.seal("1.1.0", both);
      assertThat(world.run(world.promotion("1.1.0")).state()).isEqualTo(RunState.DONE);

      Rollbacks.Option open = world.way(way);

      assertThat(open.possible()).as(open.why()).isTrue();
      assertThat(open.obstacles()).isEmpty();
    }
  }

  @Tag("nightly")
  @ParameterizedTest
  @EnumSource(names = "BACKUP")
  void isNotAskedAboutWhatTheWayBackTakesAwayItselfByTheOtherWay(Plan.Way way) throws IOException {
    isNotAskedAboutWhatTheWayBackTakesAwayItself(way);
  }
}
