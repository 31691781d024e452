package plenzo.core.table;

import static java.nio.charset.StandardCharsets.UTF_8;
import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.TableName;

/** Tables and columns under other names. */
class RenamingTest {
  private static final TableName BAND = TableName.of("fares.band");
  private static final TableName RATE = TableName.of("fares.rate");
  private static final TableName ODD = new TableName("fares", "Odd \"one\".x");
  private static final TableName ZONE = TableName.of("fares.zone");

  private static Renaming table(TableName was, TableName is) {
    return new Renaming(Map.of(was, is), Map.of());
  }

  private static Renaming columns(TableName table, String was, String is) {
    return Renaming.ofColumns(Map.of(table, Map.of(was, is)));
  }

  private static Column column(String name) {
    return new Column(name, "text", false, null, null, null, null, null);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '`',
      value = {
        "CREATE INDEX band_price ON fares.band USING btree (price) | CREATE INDEX band_price ON fares.rate USING btree (price)",
        "CREATE RULE r AS ON DELETE TO fares.band DO ALSO DELETE FROM other.band | CREATE RULE r AS ON DELETE TO fares.rate DO ALSO DELETE FROM other.band",
        "SELECT 'fares.band' | SELECT 'fares.band'",
        "ON fares.bands USING x | ON fares.bands USING x",
        "x.fares.band | x.fares.band",
        "FROM \"fares\".\"band\" | FROM fares.rate",
      })
  void aTableIsNamedWithItsSchemaAlone(String before, String after) {
    assertThat(table(BAND, RATE).qualified(before)).isEqualTo(after);
  }

  @Test
  void oddNamesAreInQuotes() {
    assertThat(table(BAND, ODD).qualified("ON fares.band USING"))
        .isEqualTo("ON fares.\"Odd \"\"one\"\".x\" USING");
    assertThat(table(ODD, BAND).qualified("ON fares.\"Odd \"\"one\"\".x\" USING"))
        .isEqualTo("ON fares.band USING");
  }

  @Test
  void aStructureFollowsTheNamesOfItselfAndOfWhatItPointsAt() {
    TableStructure before =
        new TableStructure(
            List.of(column("code"), column("zone")),
            List.of(
                new Constraint(
                    "band_zone_fkey",
                    Constraint.Type.FOREIGN,
                    "FOREIGN KEY (zone) REFERENCES fares.zone(code) ON DELETE CASCADE",
                    List.of("zone"),
                    ZONE,
                    List.of("code"))),
            List.of(
                new Index("band_i", false, "CREATE INDEX band_i ON fares.band USING btree (zone)")),
            null,
            List.of(
                new Setting(
                    "statistics/fares.s",
                    "CREATE STATISTICS fares.s ON code, zone FROM fares.band")));
    Renaming names =
        new Renaming(
            Map.of(BAND, RATE, ZONE, TableName.of("fares.area")),
            Map.of(
                RATE, Map.of("zone", "area"), TableName.of("fares.area"), Map.of("code", "name")));

    TableStructure after = names.of(BAND, before);

    assertThat(after.foreignKeys())
        .containsExactly(
            new Constraint(
                "band_zone_fkey",
                Constraint.Type.FOREIGN,
                "FOREIGN KEY (area) REFERENCES fares.area(name) ON DELETE CASCADE",
                List.of("area"),
                TableName.of("fares.area"),
                List.of("name")));
    assertThat(after.indexes().get(0).definition())
        .isEqualTo("CREATE INDEX band_i ON fares.rate USING btree (area)");
    assertThat(after.settings().get(0).value())
        .isEqualTo("CREATE STATISTICS fares.s ON area, code FROM fares.rate");
    assertThat(names.inverse().of(RATE, after)).isEqualTo(before);
  }

  /** What the server makes of a rule is known when it is made again: until then it equals none. */
  @Test
  void aRuleIsMadeAgainAndIsAsItWasWhenTakenBack() {
    String rule =
        "CREATE RULE r AS ON DELETE TO fares.band WHERE (old.price IS NULL) DO ALSO NOTHING";
    TableStructure before =
        new TableStructure(
            List.of(column("price")),
            List.of(),
            List.of(),
            null,
            List.of(new Setting("rule/r", rule)));
    for (Renaming names : List.of(table(BAND, RATE), columns(BAND, "price", "amount"))) {
      TableStructure after = names.of(BAND, before);

      assertThat(after.settings().get(0).value())
          .isNotEqualTo(names.qualified(rule))
          .startsWith(names.qualified(rule));
      assertThat(names.inverse().of(names.named(BAND), after)).isEqualTo(before);
    }
    assertThat(table(ZONE, RATE).of(BAND, before)).isEqualTo(before);
  }

  @Test
  void oneAfterTheOtherIsBoth() {
    Renaming first = new Renaming(Map.of(BAND, RATE), Map.of(RATE, Map.of("price", "amount")));
    Renaming then = new Renaming(Map.of(RATE, ODD), Map.of(ODD, Map.of("amount", "sum", "a", "b")));

    Renaming both = first.then(then);

    assertThat(both.named(BAND)).isEqualTo(ODD);
    assertThat(both.before(ODD)).isEqualTo(BAND);
    assertThat(both.columns(ODD))
        .containsExactlyInAnyOrderEntriesOf(Map.of("price", "sum", "a", "b"));
    assertThat(both.tables()).hasSize(1);
    assertThat(both.inverse().columns(BAND)).isEqualTo(Map.of("sum", "price", "b", "a"));
    assertThat(first.then(table(RATE, BAND)).tables()).isEmpty();
    assertThat(first.then(table(RATE, BAND)).columns(BAND)).isEqualTo(Map.of("price", "amount"));
  }

  private static Renaming taking(Renaming names) {
    return names.taking(t -> true, (t, c) -> true);
  }

  /** What took the name is another: the way back does not take the one for the other. */
  @Test
  void whatTakesANameThatWasGivenUpIsNew() {
    Renaming names =
        taking(new Renaming(Map.of(BAND, RATE), Map.of(RATE, Map.of("price", "amount"))));
    TableName gone = new TableName("fares", "band (newer one)");

    assertThat(names.named(BAND)).isEqualTo(RATE);
    assertThat(names.before(BAND)).isEqualTo(gone);
    assertThat(names.isRenamed(BAND)).isFalse();
    assertThat(names.isAway(BAND)).isTrue();
    assertThat(names.touched()).containsExactly(RATE);
    assertThat(names.words())
        .containsExactlyInAnyOrder(
            "fares.band becomes fares.rate",
            "fares.band is another table from then on",
            "price of fares.rate becomes amount",
            "price of fares.rate is another column from then on");
    Renaming back = names.inverse();
    assertThat(back.tables()).isEqualTo(Map.of(RATE, BAND, BAND, gone));
    assertThat(back.columns(BAND))
        .isEqualTo(Map.of("amount", "price", "price", "price (newer one)"));
    assertThat(back.words())
        .contains(
            "fares.band becomes fares.band (newer one), and goes",
            "price of fares.band becomes price (newer one), and goes");
    assertThat(back.inverse()).isEqualTo(names);
  }

  @Test
  void nothingGivesWayWhereNobodyTakesTheName() {
    Renaming names = new Renaming(Map.of(BAND, RATE), Map.of(RATE, Map.of("price", "amount")));

    assertThat(names.taking(t -> t.equals(RATE), (t, c) -> c.equals("amount"))).isEqualTo(names);
    assertThat(taking(names).taking(t -> t.equals(RATE), (t, c) -> false)).isEqualTo(names);
    assertThat(taking(names).then(names.inverse())).isEqualTo(Renaming.NONE);
    assertThat(taking(new Renaming(Map.of(BAND, RATE, RATE, BAND), Map.of())).tables()).hasSize(2);
  }

  /** Something is to do where what had the name is there to take it again, and not otherwise. */
  @Test
  void givesWayToWhatIsThere() {
    Map<String, String> forth = Map.of("a", "b", "a (newer one)", "a");
    Map<String, String> back = Map.of("b", "a", "a", "a (newer one)");

    assertThat(Renaming.atHand(forth, Set.of("a")::contains, c -> true)).isEqualTo(forth);
    assertThat(Renaming.atHand(forth, Set.of("a", "b")::contains, c -> true)).isEmpty();
    assertThat(order(forth)).containsExactly(Map.entry("a", "b"));
    assertThat(Renaming.atHand(back, Set.of("a", "b")::contains, c -> true)).isEqualTo(back);
    assertThat(Renaming.atHand(back, Set.of("a")::contains, c -> true)).isEmpty();
    assertThat(Renaming.atHand(back, Set.of("b")::contains, c -> true)).isEqualTo(Map.of("b", "a"));
    assertThat(order(back)).containsExactly(Map.entry("a", "a (newer one)"), Map.entry("b", "a"));
  }

  private static List<Map.Entry<String, String>> order(Map<String, String> columns) {
    return Renaming.ofColumns(Map.of(BAND, columns)).columnsInOrder(BAND);
  }

  @Test
  void aNameIsTakenAgainAndAgain() {
    Renaming first = taking(columns(BAND, "a", "b"));
    Renaming next = taking(columns(BAND, "a", "c"));

    assertThat(taking(first.then(next)).columns(BAND))
        .isEqualTo(Map.of("a", "b", "a (newer one)", "a"));
    assertThat(first.then(next).columns(BAND)).isEqualTo(Map.of("a", "b", "a (newer one)", "a"));
  }

  @Test
  void aLongNameGivesWayWithinWhatTheServerHolds() {
    String name = "ß".repeat(31);

    String way = taking(columns(BAND, name, "b")).inverse().columns(BAND).get(name);

    assertThat(way).isEqualTo("ß".repeat(25) + " (newer one)");
    assertThat(way.getBytes(UTF_8).length).isLessThanOrEqualTo(63);
  }

  @Test
  void whatWorksOnATableIsNamedWithIt() {
    Renaming names = table(BAND, RATE);

    assertThat(
            List.of(
                "table/fares.band",
                "records/fares.band",
                "trigger/fares.band.stamp",
                "policy/fares.band.readers",
                "view/fares.band",
                "rule/fares.band",
                "table/fares.zone"))
        .extracting(k -> names.named(ComponentKey.of(k)).toString())
        .containsExactly(
            "table/fares.rate",
            "records/fares.rate",
            "trigger/fares.rate.stamp",
            "policy/fares.rate.readers",
            "view/fares.band",
            "rule/fares.band",
            "table/fares.zone");
  }

  @Test
  void isToDoWhereTheOldNameIsThereAndTheNewOneIsNot() {
    Renaming wanted = new Renaming(Map.of(BAND, RATE), Map.of(RATE, Map.of("price", "amount")));
    TableStructure old = new TableStructure(List.of(column("price")), List.of(), List.of(), null);
    TableStructure done = new TableStructure(List.of(column("amount")), List.of(), List.of(), null);

    assertThat(wanted.atHand(t -> t.equals(BAND) ? Optional.of(old) : Optional.empty(), UNKNOWN))
        .isEqualTo(wanted);
    assertThat(wanted.atHand(t -> t.equals(RATE) ? Optional.of(old) : Optional.empty(), UNKNOWN))
        .isEqualTo(columns(RATE, "price", "amount"));
    assertThat(wanted.atHand(t -> t.equals(RATE) ? Optional.of(done) : Optional.empty(), UNKNOWN))
        .isEqualTo(Renaming.NONE);
    assertThat(wanted.atHand(t -> Optional.of(done), UNKNOWN)).isEqualTo(Renaming.NONE);
    assertThat(wanted.atHand(t -> Optional.empty(), UNKNOWN)).isEqualTo(Renaming.NONE);
  }

  /** A name that is given up is another thing's from then on: the first one keeps its own. */
  @Test
  void aNameThatWasGivenUpIsThatOfAnother() {
    assertThat(table(BAND, RATE).then(table(BAND, ODD)).tables())
        .containsOnly(Map.entry(BAND, RATE));
    assertThat(columns(BAND, "a", "b").then(columns(BAND, "a", "c")).columns(BAND))
        .containsOnly(Map.entry("a", "b"));
    assertThat(table(BAND, RATE).then(table(ZONE, BAND)).tables())
        .containsOnly(Map.entry(BAND, RATE), Map.entry(ZONE, BAND));
  }

  private static Renaming atHand(Renaming wanted, TableName... there) {
    return wanted.atHand(
        t -> List.of(there).contains(t) ? Optional.of(TableStructure.EMPTY) : Optional.empty(),
        UNKNOWN);
  }

  private static final Exchanges UNKNOWN = Exchanges.all(Exchanges.Progress.NOT_KNOWN);

  @Test
  void aNameIsTakenThatAnotherGivesUp() {
    Renaming chain = table(BAND, RATE).then(table(ZONE, BAND)).then(table(ODD, ZONE));

    assertThat(atHand(chain, BAND, ZONE, ODD)).isEqualTo(chain);
    assertThat(atHand(chain, RATE, ZONE, ODD).tables())
        .containsOnly(Map.entry(ZONE, BAND), Map.entry(ODD, ZONE));
    assertThat(atHand(chain, RATE, BAND, ZONE).isEmpty()).isTrue();
    assertThat(atHand(chain, BAND, RATE, ZONE).isEmpty()).isTrue();
    assertThat(atHand(chain.inverse(), RATE, BAND, ZONE)).isEqualTo(chain.inverse());
    assertThat(chain.tablesInOrder())
        .containsExactly(Map.entry(BAND, RATE), Map.entry(ZONE, BAND), Map.entry(ODD, ZONE));
    assertThat(chain.inverse().tablesInOrder())
        .containsExactly(Map.entry(ZONE, ODD), Map.entry(BAND, ZONE), Map.entry(RATE, BAND));
  }

  @Test
  void columnsTakeNamesToo() {
    Renaming chain = Renaming.ofColumns(Map.of(BAND, Map.of("a", "b", "b", "c")));
    TableStructure was =
        new TableStructure(List.of(column("a"), column("b")), List.of(), List.of(), null);
    TableStructure is =
        new TableStructure(List.of(column("c"), column("b")), List.of(), List.of(), null);

    assertThat(chain.atHand(t -> Optional.of(was), UNKNOWN)).isEqualTo(chain);
    assertThat(chain.atHand(t -> Optional.of(is), UNKNOWN)).isEqualTo(Renaming.NONE);
    assertThat(chain.columnsInOrder(BAND))
        .containsExactly(Map.entry("b", "c"), Map.entry("a", "b"));
  }

  private static final Renaming TWO_TABLES =
      new Renaming(Map.of(BAND, RATE, RATE, BAND, ZONE, ODD), Map.of());
  private static final Renaming TWO_COLUMNS =
      Renaming.ofColumns(Map.of(BAND, Map.of("a", "b", "b", "a", "c", "d")));

  private static Optional<TableStructure> three(TableName table) {
    return table.equals(ODD)
        ? Optional.empty()
        : Optional.of(
            new TableStructure(
                List.of(column("a"), column("b"), column("c")), List.of(), List.of(), null));
  }

  /** Both are there before and after: what is there does not tell whether it was done. */
  @Test
  void anExchangeOfNamesIsToDoWhereItIsKnownToBe() {
    assertThat(TWO_TABLES.atHand(RenamingTest::three, UNKNOWN).tables())
        .containsOnly(Map.entry(ZONE, ODD));
    assertThat(TWO_COLUMNS.atHand(RenamingTest::three, UNKNOWN).columns(BAND))
        .containsOnly(Map.entry("c", "d"));
    Exchanges done = Exchanges.all(Exchanges.Progress.DONE);
    assertThat(TWO_TABLES.atHand(RenamingTest::three, done).tables()).containsOnlyKeys(ZONE);
    Exchanges open = Exchanges.all(Exchanges.Progress.TO_DO);
    assertThat(TWO_TABLES.atHand(RenamingTest::three, open)).isEqualTo(TWO_TABLES);
    assertThat(TWO_COLUMNS.atHand(RenamingTest::three, open)).isEqualTo(TWO_COLUMNS);
  }

  @Test
  void onlyNamesThatChangePlacesAreAskedAbout() {
    assertThat(List.of(TWO_TABLES, TWO_COLUMNS)).allMatch(Renaming::exchanges);
    assertThat(Renaming.cycles(TWO_TABLES.tables()))
        .containsExactly(Map.of(BAND, RATE, RATE, BAND));
    assertThat(
            Renaming.cycles(
                Map.of("a", "b", "b", "c", "c", "a", "d", "e", "e", "d", "f", "g", "g", "h")))
        .containsExactlyInAnyOrder(
            Map.of("a", "b", "b", "c", "c", "a"), Map.of("d", "e", "e", "d"));
    Renaming chain = Renaming.ofColumns(Map.of(BAND, Map.of("a", "b", "b", "c")));
    assertThat(chain.exchanges()).isFalse();
    assertThat(taking(columns(BAND, "a", "b")).exchanges()).isFalse();
    assertThat(taking(columns(BAND, "a", "b")).inverse().exchanges()).isFalse();
    assertThat(TWO_COLUMNS.then(TWO_COLUMNS).exchanges()).isFalse();
  }

  /** One of them stands aside until its new name is free. */
  @ParameterizedTest
  @CsvSource({"a b b a", "a b b c c a", "a b b c c d d a", "a b b a c d d c", "a b b a c d d e"})
  void eachNewNameIsFreeByThen(String pairs) {
    String[] names = pairs.split(" ");
    Map<String, String> wanted = new TreeMap<>();
    for (int n = 0; n < names.length; n += 2) {
      wanted.put(names[n], names[n + 1]);
    }
    Map<String, String> by = new TreeMap<>();
    wanted.keySet().forEach(n -> by.put(n, n));

    for (Map.Entry<String, String> step : order(wanted)) {
      assertThat(by).doesNotContainKey(step.getValue());
      by.put(step.getValue(), by.remove(step.getKey()));
    }

    Map<String, String> given = new TreeMap<>();
    by.forEach((name, was) -> given.put(was, name));
    assertThat(given).isEqualTo(wanted);
  }

  @Test
  void ofTablesOneStandsAsideInItsOwnSchema() {
    TableName there = new TableName("other", "band");

    assertThat(
            new Renaming(Map.of(BAND, there, there, BAND), Map.of())
                .tablesInOrder().stream()
                    .map(n -> n.getKey() + " " + n.getValue())
                    .sorted()
                    .toList())
        .isIn(
            List.of(
                "fares.band (on its way) other.band",
                "fares.band fares.band (on its way)",
                "other.band fares.band"),
            List.of(
                "fares.band other.band",
                "other.band (on its way) fares.band",
                "other.band other.band (on its way)"));
  }

  private static Renaming leaving(Renaming names) {
    return names.leaving(t -> true, (t, c) -> true);
  }

  @Test
  void whatGoesGivesItsNameToAnother() {
    Renaming forth = leaving(columns(BAND, "fee", "price"));

    assertThat(forth.columns(BAND)).isEqualTo(Map.of("fee", "price", "price", "price (older one)"));
    assertThat(forth.renamedColumns(BAND)).isEqualTo(Map.of("fee", "price"));
    assertThat(forth.givingWay(BAND)).containsExactly("price (older one)");
    assertThat(forth.columnsInOrder(BAND))
        .containsExactly(Map.entry("price", "price (older one)"), Map.entry("fee", "price"));
    assertThat(forth.inverse().columnsInOrder(BAND)).containsExactly(Map.entry("price", "fee"));
    assertThat(leaving(table(BAND, RATE)).tables())
        .isEqualTo(Map.of(BAND, RATE, RATE, new TableName("fares", "rate (older one)")));
    assertThat(forth.words())
        .containsExactlyInAnyOrder(
            "fee of fares.band becomes price",
            "price of fares.band becomes price (older one), and goes");
    assertThat(List.of(forth, leaving(table(BAND, RATE)))).allMatch(Renaming::reuses);
    assertThat(List.of(columns(BAND, "fee", "price"), taking(table(BAND, RATE))))
        .noneMatch(Renaming::reuses);
  }

  /** A chain or an exchange takes no name of what goes; neither does one that is new. */
  @Test
  void onlyWhatGoesGivesItsNameAway() {
    Renaming chain = Renaming.ofColumns(Map.of(BAND, Map.of("a", "b", "b", "c")));
    assertThat(chain.leaving(t -> true, (t, c) -> !c.equals("c"))).isEqualTo(chain);
    assertThat(leaving(chain).columns(BAND)).containsEntry("c", "c (older one)").hasSize(3);
    assertThat(leaving(TWO_COLUMNS).columns(BAND)).containsEntry("d", "d (older one)").hasSize(4);
    Renaming newer = taking(columns(BAND, "a", "b"));
    assertThat(newer.leaving(t -> true, (t, c) -> false)).isEqualTo(newer);
  }

  /** What goes is told of the first and the last names again. */
  @Test
  void whatGoesIsNotHandedOn() {
    Renaming first = leaving(columns(BAND, "fee", "price"));

    assertThat(first.then(columns(BAND, "price", "cost")).columns(BAND))
        .isEqualTo(Map.of("fee", "cost"));
    assertThat(first.inverse().then(Renaming.NONE)).as("it comes again").isEqualTo(first.inverse());
    assertThat(leaving(first)).isEqualTo(first);
  }

  @Test
  void whatWorksOnATableThatGoesGoesWithIt() {
    assertThat(
            Stream.of(
                    "table/fares.band (older one)",
                    "records/fares.band (older one)",
                    "trigger/fares.band (older one).stamp",
                    "table/fares.band",
                    "trigger/fares.band.stamp",
                    "view/fares.band (older one)",
                    "file/band (older one)")
                .filter(k -> Renaming.isGoing(ComponentKey.of(k))))
        .containsExactly(
            "table/fares.band (older one)",
            "records/fares.band (older one)",
            "trigger/fares.band (older one).stamp");
  }

  @Test
  void saysItInWords() {
    assertThat(new Renaming(Map.of(BAND, RATE), Map.of(RATE, Map.of("price", "amount"))).words())
        .containsExactly("fares.band becomes fares.rate", "price of fares.rate becomes amount");
  }
}
