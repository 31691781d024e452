package plenzo.core.locking;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Nested;
import org.junit.jupiter.api.Test;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.TableName;
import plenzo.core.object.ObjectDelta;
import plenzo.core.object.SchemaObject;
import plenzo.core.records.Header;
import plenzo.core.records.Row;
import plenzo.core.table.Column;
import plenzo.core.table.Constraint;
import plenzo.core.table.Conversion;
import plenzo.core.table.Index;
import plenzo.core.table.Renaming;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Question;
import plenzo.core.target.Rows;
import plenzo.core.target.TablesDelta;

class LockedTest {
  private static final TableName BAND = TableName.of("fares.band");
  private static final TableName LINE = TableName.of("fares.line");
  private static final Header CODES = new Header(List.of("code"), List.of("text"), 1);
  private static final TableStructure PLAIN = table(column("code", "text"), column("zone", "text"));

  private final List<TablesDelta.TableDelta> tables = new ArrayList<>();
  private final List<TablesDelta.Reached> reached = new ArrayList<>();
  private final List<ObjectDelta> objects = new ArrayList<>();
  private Renaming renaming = Renaming.NONE;
  private long bytes;

  private static Column column(String name, String type) {
    return new Column(name, type, false, null, null, null, null, null);
  }

  private static TableStructure table(Column... columns) {
    return new TableStructure(List.of(columns), List.of(), List.of(), null);
  }

  private static TableStructure with(TableStructure s, Index... indexes) {
    return new TableStructure(s.columns(), s.constraints(), List.of(indexes), null);
  }

  private static TableStructure with(TableStructure s, Constraint... constraints) {
    return new TableStructure(s.columns(), List.of(constraints), s.indexes(), null);
  }

  private static Index index(String definition) {
    return new Index("by_zone", definition.contains("UNIQUE"), definition);
  }

  private static Constraint foreign(String behind) {
    return new Constraint(
        "line_band",
        Constraint.Type.FOREIGN,
        "FOREIGN KEY (zone) REFERENCES fares.band(code)" + behind,
        List.of("zone"),
        BAND,
        List.of("code"));
  }

  private static Constraint check(String behind) {
    return new Constraint(
        "known",
        Constraint.Type.CHECK,
        "CHECK ((zone <> ''::text))" + behind,
        List.of("zone"),
        null,
        List.of());
  }

  private static SchemaObject object(String key, SchemaObject.Sort sort) {
    return new SchemaObject(
        ComponentKey.of(key),
        sort,
        List.of(),
        new TreeMap<>(),
        "what it does",
        null,
        List.of(),
        List.of());
  }

  private LockedTest becomes(
      TableName table, @Nullable TableStructure was, @Nullable TableStructure is, String... gone) {
    List<TablesDelta.RowChange> rows =
        Arrays.stream(gone)
            .map(
                k -> new TablesDelta.RowChange(Difference.REMOVED, Row.of(CODES, List.of(k)), null))
            .toList();
    tables.add(
        TablesDelta.TableDelta.of(
            table, was, is, rows.isEmpty() ? null : Rows.of(CODES, List.of("code"), rows)));
    return this;
  }

  private TablesDelta delta() {
    return new TablesDelta(tables, reached, objects, renaming);
  }

  private Map<TableName, Hold> holds() {
    return Locks.of(delta(), t -> true).holds();
  }

  private Locked locked() {
    return Locked.of(delta(), t -> true, t -> bytes);
  }

  @Nested
  class WhatIsHeld {
    @Test
    void aTableWhoseRowsAreWrittenIsRead() {
      becomes(BAND, PLAIN, PLAIN, "a", "b");

      assertThat(Locks.of(delta(), t -> true).words())
          .containsExactly(
              new TableLock("fares.band", Hold.WRITES, List.of("2 rows of it are written")));
    }

    @Test
    void aTableWhoseStructureChangesIsNotEvenRead() {
      becomes(BAND, PLAIN, table(column("code", "text")), "a");

      assertThat(Locks.of(delta(), t -> true).words())
          .containsExactly(
              new TableLock(
                  "fares.band",
                  Hold.EVERYTHING,
                  List.of("its structure changes", "1 row of it is written")));
    }

    @Test
    void aTableThatGoesOrIsRenamedInIsNotRead() {
      renaming = Renaming.ofColumns(Map.of(LINE, Map.of("zone", "area")));
      becomes(BAND, PLAIN, null).becomes(LINE, PLAIN, PLAIN);

      assertThat(holds()).containsEntry(BAND, Hold.EVERYTHING).containsEntry(LINE, Hold.EVERYTHING);
    }

    @Test
    void aTableThatComesKeepsNobodyWaiting() {
      becomes(BAND, null, PLAIN).becomes(LINE, null, with(PLAIN, foreign("")));

      assertThat(holds()).isEmpty();
    }

    @Test
    void whatIsPointedAtFromNowOnIsReadAndWhatIsNoLongerIsNot() {
      becomes(LINE, PLAIN, with(PLAIN, foreign("")));
      assertThat(holds()).containsEntry(BAND, Hold.WRITES);

      tables.clear();
      becomes(LINE, with(PLAIN, foreign("")), PLAIN);
      assertThat(holds()).containsEntry(BAND, Hold.EVERYTHING);
    }

    @Test
    void whatCascadesReachIsRead() {
      reached.add(
          new TablesDelta.Reached(
              LINE, 0, List.of(new Question.Hop(LINE, List.of("zone"), List.of("code")))));
      becomes(BAND, PLAIN, PLAIN, "a");

      assertThat(holds()).containsEntry(LINE, Hold.WRITES);
    }

    /** The order is the same whatever the order of the plan, so that two runs cannot cross. */
    @Test
    void inOneOrder() {
      becomes(LINE, PLAIN, PLAIN, "a").becomes(BAND, PLAIN, PLAIN, "a");

      assertThat(holds().keySet()).containsExactly(BAND, LINE);
    }

    @Test
    void aTriggerHoldsItsTableAndNoView() {
      objects.add(
          new ObjectDelta(
              ComponentKey.of("trigger/fares.line.stamped"),
              ObjectDelta.Act.MAKE,
              null,
              object("trigger/fares.line.stamped", SchemaObject.Sort.TRIGGER),
              List.of()));

      assertThat(Locks.of(delta(), t -> true).holds()).containsEntry(LINE, Hold.WRITES);
      assertThat(Locks.of(delta(), t -> false).holds()).isEmpty();
    }
  }

  @Nested
  class WhatIsBuiltBefore {
    private List<String> early() {
      return Beside.indexes(delta()).stream().map(e -> e.index().name()).toList();
    }

    private LockedTest indexed(String definition) {
      return becomes(BAND, PLAIN, with(PLAIN, index(definition)));
    }

    @Test
    void aNewIndexOverWhatIsThere() {
      indexed(
          "CREATE INDEX by_zone ON fares.band USING btree (zone) WHERE (zone <> 'by_zone'::text)");

      assertThat(early()).containsExactly("by_zone");
      assertThat(Beside.indexes(delta()).get(0).statement("\"other\""))
          .isEqualTo(
              "CREATE INDEX CONCURRENTLY \"other\" ON fares.band USING btree (zone) WHERE (zone <> 'by_zone'::text)");
    }

    @Test
    void anOddName() {
      becomes(
          BAND,
          PLAIN,
          with(
              PLAIN,
              new Index(
                  "a \"b\" ON c",
                  false,
                  "CREATE INDEX \"a \"\"b\"\" ON c\" ON fares.band USING btree (zone)")));

      assertThat(Beside.indexes(delta()).get(0).statement("n"))
          .isEqualTo("CREATE INDEX CONCURRENTLY n ON fares.band USING btree (zone)");
    }

    @Test
    void noneThatMustBeUnique() {
      indexed("CREATE UNIQUE INDEX by_zone ON fares.band USING btree (zone)");
      assertThat(early()).isEmpty();
    }

    @Test
    void noneOverAColumnThatComesOrGetsAnotherType() {
      becomes(
          BAND,
          table(column("code", "text")),
          with(PLAIN, index("CREATE INDEX by_zone ON fares.band USING btree (zone)")));
      becomes(
          LINE,
          table(column("code", "text"), column("zone", "integer")),
          with(PLAIN, index("CREATE INDEX by_zone ON fares.line USING btree (zone)")));
      assertThat(early()).isEmpty();
    }

    @Test
    void noneThatTakesTheNameOfAnother() {
      becomes(
          BAND,
          with(PLAIN, index("CREATE INDEX by_zone ON fares.band USING btree (code)")),
          with(PLAIN, index("CREATE INDEX by_zone ON fares.band USING btree (zone)")));
      assertThat(early()).isEmpty();
    }

    @Test
    void noneOfATableThatComesOrIsRenamedIn() {
      renaming = Renaming.ofColumns(Map.of(BAND, Map.of("code", "key")));
      indexed("CREATE INDEX by_zone ON fares.band USING btree (zone)");
      becomes(
          LINE, null, with(PLAIN, index("CREATE INDEX by_zone ON fares.line USING btree (zone)")));
      assertThat(early()).isEmpty();
    }

    @Test
    void noneThatUsesWhatIsExchanged() {
      ComponentKey half = ComponentKey.of("routine/fares.half(text)");
      SchemaObject routine = object(half.toString(), SchemaObject.Sort.FUNCTION);
      objects.add(new ObjectDelta(half, ObjectDelta.Act.REBUILD, routine, routine, List.of()));
      indexed("CREATE INDEX by_zone ON fares.band USING btree (fares.half(zone))");
      assertThat(early()).isEmpty();
    }
  }

  @Nested
  class WhatIsLookedAtAfter {
    private List<Beside.Late> late() {
      return Beside.constraints(delta());
    }

    @Test
    void aConstraintOfATableThatIsThere() {
      becomes(LINE, PLAIN, with(PLAIN, foreign(""), check("")));

      assertThat(late())
          .extracting(l -> l.constraint().name())
          .containsExactly("known", "line_band");
      assertThat(late().get(1).reads()).containsExactly(LINE, BAND);
      assertThat(Beside.unproven(late().get(1).constraint()).definition())
          .isEqualTo("FOREIGN KEY (zone) REFERENCES fares.band(code) NOT VALID");
    }

    @Test
    void notOneThatTheVersionHasUnproven() {
      becomes(LINE, PLAIN, with(PLAIN, foreign(" NOT VALID")));
      assertThat(late()).isEmpty();
    }

    @Test
    void notOneOfATableThatComes() {
      becomes(LINE, null, with(PLAIN, foreign("")));
      assertThat(late()).isEmpty();
    }

    private TableStructure filled(Constraint... constraints) {
      Column zone = new Column("zone", "text", true, null, null, null, null, null);
      return with(table(column("code", "text"), zone), constraints);
    }

    @Test
    void whetherAColumnIsFilledInALargeTable() {
      becomes(LINE, PLAIN, filled());

      bytes = Beside.CHECK_BYTES;
      assertThat(locked().after())
          .containsExactly("whether zone has a value in all rows of fares.line");
      long beside = locked().millis();
      bytes--;
      assertThat(locked().after()).isEmpty();
      assertThat(locked().millis()).as("while it is held").isGreaterThan(beside);
    }

    @Test
    void notOfAKeyNorInATableThatComes() {
      Constraint key =
          new Constraint(
              "pk",
              Constraint.Type.PRIMARY,
              "PRIMARY KEY (zone)",
              List.of("zone"),
              null,
              List.of());
      becomes(LINE, PLAIN, filled(key)).becomes(BAND, null, filled());

      assertThat(Beside.filled(delta())).isEmpty();
    }

    @Test
    void aNameInQuotesIsSoInItsCheck() {
      Column odd = new Column("Odd \"one\"", "text", true, null, null, null, null, null);

      assertThat(new Beside.Filled(LINE, odd).by("c").definition())
          .isEqualTo("CHECK ((\"Odd \"\"one\"\"\" IS NOT NULL))");
    }
  }

  @Nested
  class ForHowLong {
    @Test
    void nothingHoldsNothing() {
      assertThat(Locked.of(TablesDelta.NONE, t -> true, t -> 1)).isEqualTo(Locked.NONE);
    }

    @Test
    void anotherTypeIsWrittenAnewAndMoreRoomForTextIsNot() {
      bytes = 400L << 20;
      becomes(BAND, PLAIN, table(column("code", "text"), column("zone", "integer")));
      assertThat(locked().millis()).isEqualTo(10_100);

      tables.clear();
      becomes(BAND, table(column("code", "character varying(5)")), table(column("code", "text")));
      assertThat(locked().millis()).isEqualTo(100);
    }

    private List<Locked.Took> took(long... pairs) {
      List<Locked.Took> out = new ArrayList<>();
      for (int n = 0; n < pairs.length; n += 2) {
        out.add(new Locked.Took(pairs[n], pairs[n + 1]));
      }
      return out;
    }

    @Test
    void earlierSwitchesCorrectWhatSizesTell() {
      bytes = 400L << 20;
      becomes(BAND, PLAIN, table(column("code", "text"), column("zone", "integer")));
      Locked plain = locked();

      Locked slower = plain.corrected(took(1_000, 3_000, 2_000, 6_000, 500, 400));

      assertThat(slower.millis()).as("three times, the median").isEqualTo(30_100);
      assertThat(slower.foreseen()).as("what later ones are held against").isEqualTo(10_100);
      assertThat(slower.basis())
          .isEqualTo("by the size of what is there and how long the last 3 switches here took");
      assertThat(plain.basis()).isEqualTo("by the size of what is there");
      assertThat(
              plain.corrected(took(1_000, 1_000_000, 1_000, 1_000_000, 1_000, 1_000_000)).millis())
          .as("a wild one is bounded")
          .isEqualTo(200_100);
      assertThat(plain.corrected(took(600, 0, 600, 0, 600, 0)).millis()).isEqualTo(600);
    }

    @Test
    void twoSwitchesOrShortOnesSayNothing() {
      bytes = 400L << 20;
      becomes(BAND, PLAIN, table(column("code", "text"), column("zone", "integer")));

      assertThat(locked().corrected(took(1_000, 3_000, 1_000, 3_000))).isEqualTo(locked());
      assertThat(locked().corrected(took(499, 3_000, 1_000, 3_000, 1_000, 3_000, 100, 9_000)))
          .isEqualTo(locked());
      assertThat(Locked.NONE.corrected(took(1_000, 9_000, 1_000, 9_000, 1_000, 9_000)))
          .isEqualTo(Locked.NONE);
    }

    @Test
    void theLastFiveAreTaken() {
      bytes = 400L << 20;
      becomes(BAND, PLAIN, table(column("code", "text"), column("zone", "integer")));

      Locked found =
          locked()
              .corrected(
                  took(
                      600, 600, 600, 600, 600, 1_200, 600, 1_200, 600, 1_200, 600, 60_000, 600,
                      60_000));

      assertThat(found.switches()).isEqualTo(5);
      assertThat(found.millis()).isEqualTo(20_100);
    }

    /**
     * New columns are written together, each new type by itself, whatever it would cost plainly.
     */
    @Test
    void whatIsWorkedOutIsWrittenAnew() {
      bytes = 400L << 20;
      TableStructure was = table(column("code", "character varying(5)"), column("zone", "text"));
      TableStructure is = table(column("code", "text"), column("a", "text"), column("b", "text"));
      TablesDelta.TableDelta plain = TablesDelta.TableDelta.of(BAND, was, is, null);
      tables.add(plain);
      assertThat(locked().millis()).isEqualTo(100);

      tables.clear();
      tables.add(
          plain.converting(
              Map.of(
                  "code", Conversion.of("upper(code)", was),
                  "a", Conversion.of("zone", was),
                  "b", Conversion.of("zone", was))));
      assertThat(locked().millis()).isEqualTo(20_100);
    }

    @Test
    void aLargeIndexIsBuiltBeforeAndASmallOneIsNot() {
      becomes(
          BAND, PLAIN, with(PLAIN, index("CREATE INDEX by_zone ON fares.band USING btree (zone)")));
      bytes = Beside.INDEX_BYTES - 1;
      assertThat(locked().before()).isEmpty();
      assertThat(locked().millis()).isEqualTo(299);

      bytes = Beside.INDEX_BYTES;
      assertThat(locked().before()).containsExactly("the index by_zone of fares.band");
      assertThat(locked().millis()).isEqualTo(100);
    }

    @Test
    void aLargeTableIsLookedAtAfter() {
      becomes(LINE, PLAIN, with(PLAIN, foreign("")));
      bytes = Beside.CHECK_BYTES / 2 - 1;
      assertThat(locked().after()).isEmpty();
      assertThat(locked().millis()).isBetween(400L, 440L);

      bytes = Beside.CHECK_BYTES / 2;
      assertThat(locked().after())
          .containsExactly("whether line_band holds for all rows of fares.line");
      assertThat(locked().millis()).isEqualTo(100);
    }

    @Test
    void aValueOfItsOwnForEachRowIsWritten() {
      bytes = 40L << 20;
      TableStructure dated =
          table(
              column("code", "text"),
              column("zone", "text"),
              new Column("at", "timestamptz", false, "now()", null, null, null, null));
      TableStructure numbered =
          table(
              column("code", "text"),
              column("zone", "text"),
              new Column(
                  "n", "integer", false, "nextval('fares.n'::regclass)", null, null, null, null));
      becomes(BAND, PLAIN, dated);
      assertThat(locked().millis()).isEqualTo(100);

      tables.clear();
      becomes(BAND, PLAIN, numbered);
      assertThat(locked().millis()).isEqualTo(1_100);
    }

    /** 20,000 rows that 5,500 others may point at held a site for more than 14 seconds. */
    @Test
    void lookingWithoutAnIndexTakesAsLongAsItDid() {
      assertThat(Locked.searching(20_000, 430_000)).isBetween(12_000L, 16_000L);
      assertThat(Locked.searching(Long.MAX_VALUE, 1L << 40)).isEqualTo(Long.MAX_VALUE);
    }
  }
}
