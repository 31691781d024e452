package plenzo.core.impact;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import plenzo.core.comparison.Counts;
import plenzo.core.comparison.Decision;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.TableName;
import plenzo.core.promotion.Promotion.ComponentResult;
import plenzo.core.records.Header;
import plenzo.core.records.RecordsComparison.RowDifference;
import plenzo.core.records.Row;
import plenzo.core.table.Column;
import plenzo.core.table.Constraint;
import plenzo.core.table.Index;
import plenzo.core.table.PartDifference;
import plenzo.core.table.Setting;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Question;
import plenzo.core.target.Rows;
import plenzo.core.target.TablesDelta;

/**
 * Each rule about tables and rows with the smallest case that violates it, and with one just short
 * of it. The target's engine counts what the test says that it counts.
 */
class TableRulesTest {
  private static final TableName BAND = TableName.of("fares.band");
  private static final TableName LINE = TableName.of("fares.line");
  private static final ComponentKey BANDS = ComponentKey.of("records/fares.band");
  private static final Header COLUMNS =
      new Header(List.of("code", "zone"), List.of("text", "text"), 1);

  private final Map<TableName, TableStructure> tables = new LinkedHashMap<>();
  private final List<TablesDelta.TableDelta> deltas = new ArrayList<>();
  private final List<ComponentResult> components = new ArrayList<>();
  private final List<RowDifference> conflicts = new ArrayList<>();
  private final Map<String, Decision> decisions = new HashMap<>();
  private final Map<Question.Type, Function<Question, Long>> answers =
      new EnumMap<>(Question.Type.class);
  private final List<Question> asked = new ArrayList<>();

  private static Column column(String name, String type) {
    return new Column(name, type, false, null, null, null, null, null);
  }

  private static Column required(String name, String type, @Nullable String otherwise) {
    return new Column(name, type, true, otherwise, null, null, null, null);
  }

  private static Constraint primary() {
    return new Constraint(
        "band_pkey",
        Constraint.Type.PRIMARY,
        "PRIMARY KEY (code)",
        List.of("code"),
        null,
        List.of());
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

  private static Constraint unique(String... columns) {
    return new Constraint(
        "once",
        Constraint.Type.UNIQUE,
        "UNIQUE (" + String.join(", ", columns) + ")",
        List.of(columns),
        null,
        List.of());
  }

  private static Constraint check() {
    return new Constraint(
        "positive", Constraint.Type.CHECK, "CHECK (amount > 0)", List.of("zone"), null, List.of());
  }

  private static TableStructure table(List<Column> columns, Constraint... constraints) {
    return new TableStructure(columns, List.of(constraints), List.of(), null);
  }

  private static TableStructure plain(Constraint... more) {
    return table(
        List.of(required("code", "text", null), column("zone", "text")),
        Stream.concat(Stream.of(primary()), Arrays.stream(more)).toArray(Constraint[]::new));
  }

  private static TableStructure with(TableStructure s, Column... columns) {
    List<Column> all = new ArrayList<>(s.columns());
    for (Column c : columns) {
      all.removeIf(o -> o.name().equals(c.name()));
      all.add(c);
    }
    return new TableStructure(all, s.constraints(), s.indexes(), s.comment());
  }

  /** One row's change: "PEAK" there, "PEAK:b" to come; null for none. */
  private static TablesDelta.RowChange row(@Nullable String was, @Nullable String is) {
    return new TablesDelta.RowChange(
        was == null ? Difference.ADDED : is == null ? Difference.REMOVED : Difference.CHANGED,
        values(was),
        values(is));
  }

  private static @Nullable Row values(@Nullable String text) {
    if (text == null) {
      return null;
    }
    String[] parts = text.split(":", 2);
    return Row.of(COLUMNS, Arrays.asList(parts[0], parts.length == 1 ? null : parts[1]));
  }

  private static TablesDelta.RowsDelta rows(TablesDelta.RowChange... changes) {
    List<TablesDelta.RowChange> all = List.of(changes);
    return Rows.of(COLUMNS, COLUMNS.names(), all);
  }

  private TableRulesTest stands(TableName table, TableStructure structure) {
    tables.put(table, structure);
    return this;
  }

  private TableRulesTest becomes(
      TableName table, @Nullable TableStructure result, TablesDelta.RowChange... changes) {
    deltas.removeIf(d -> d.table().equals(table));
    deltas.add(
        TablesDelta.TableDelta.of(
            table, tables.get(table), result, changes.length == 0 ? null : rows(changes)));
    return this;
  }

  private TableRulesTest counts(Question.Type type, long count) {
    answers.put(type, q -> count);
    return this;
  }

  private List<Finding> findings() {
    asked.clear();
    return Rules.run(
        Rules.TABLES,
        new ImpactCase(
            components,
            decisions,
            new TablesDelta(deltas, List.of()),
            tables,
            Map.of(),
            List.of(),
            (component, difference, limit, sink) ->
                conflicts.stream().filter(r -> r.difference() == difference).forEach(sink),
            question -> {
              asked.add(question);
              return new Question.Answer(
                  answers.getOrDefault(question.type(), q -> 0L).apply(question),
                  List.of("an example"),
                  "SELECT " + question.type());
            }));
  }

  private List<String> rules() {
    return findings().stream().map(f -> f.severity() + " " + f.rule()).toList();
  }

  @Test
  void findsNothingWhereNothingIsInTheWay() {
    stands(BAND, plain()).becomes(BAND, with(plain(), column("note", "text")));
    assertThat(rules()).isEmpty();
  }

  @Test
  void aColumnThatGoesTakesItsValuesAlong() {
    stands(BAND, plain()).becomes(BAND, table(List.of(required("code", "text", null)), primary()));
    assertThat(rules()).as("no value stands in it").isEmpty();
    counts(Question.Type.FILLED, 1);
    assertThat(rules()).containsExactly("RISK column-dropped");
  }

  /** Values that nobody typed are no loss, and are said all the same. */
  @Test
  void aColumnThatHoldsItsDefaultAloneTakesNobodysValuesAlong() {
    stands(
        BAND,
        with(plain(), new Column("note", "text", false, "'none'::text", null, null, null, null)));
    becomes(BAND, plain());
    answers.put(Question.Type.FILLED, q -> q.text().isEmpty() ? 3L : 0L);
    assertThat(findings())
        .extracting(f -> f.severity() + " " + f.rule() + " " + f.sentence())
        .containsExactly(
            "NOTE column-dropped 1 column goes that holds nothing but its default: fares.band.note ('none'::text).");
    counts(Question.Type.FILLED, 3);
    assertThat(rules()).containsExactly("RISK column-dropped");
  }

  @Test
  void aTableThatGoesTakesItsRowsAlong() {
    stands(BAND, plain()).becomes(BAND, null);
    assertThat(rules()).isEmpty();
    counts(Question.Type.ROWS, 1);
    assertThat(rules()).containsExactly("RISK table-dropped");
  }

  private static TableStructure parted(String... namesAndValues) {
    List<Setting> settings = new ArrayList<>();
    for (int n = 0; n < namesAndValues.length; n += 2) {
      settings.add(new Setting(namesAndValues[n], namesAndValues[n + 1]));
    }
    TableStructure t = plain();
    return new TableStructure(t.columns(), t.constraints(), t.indexes(), null, settings);
  }

  @Test
  void howATableIsPartitionedStays() {
    stands(BAND, plain()).becomes(BAND, parted("partitioned", "RANGE (code)"));
    assertThat(rules()).containsExactly("BLOCKER partition-changes");
    tables.clear();
    deltas.clear();
    stands(BAND, parted("partitioned", "RANGE (code)", "partition/fares.a", "fares.band DEFAULT"))
        .becomes(
            BAND,
            parted(
                "partitioned",
                "RANGE (code)",
                "partition/fares.a",
                "fares.band FOR VALUES FROM ('a') TO ('b')"));
    assertThat(rules()).containsExactly("BLOCKER partition-changes");
    assertThat(findings().get(0).sentence())
        .isEqualTo(
            "fares.a is fares.band DEFAULT and is to be fares.band FOR VALUES FROM ('a') TO ('b'): the server changes that of no table.");
  }

  @Test
  void aPartitionGoesWithoutRowsAlone() {
    stands(
            BAND,
            parted(
                "partitioned",
                "RANGE (code)",
                "partition/fares.a",
                "fares.band FOR VALUES FROM ('a') TO ('b')"))
        .becomes(BAND, parted("partitioned", "RANGE (code)"));
    assertThat(rules()).isEmpty();
    counts(Question.Type.ROWS, 1);
    assertThat(rules()).containsExactly("BLOCKER partition-has-rows");
    assertThat(asked)
        .filteredOn(q -> q.type() == Question.Type.ROWS)
        .extracting(Question::table)
        .containsOnly(TableName.of("fares.a"));
  }

  @Test
  void rowsOfTheDefaultPartitionMayBelongIntoOneThatComes() {
    String[] rest = {"partitioned", "RANGE (code)", "partition/fares.rest", "fares.band DEFAULT"};
    String[] more =
        Stream.concat(
                Arrays.stream(rest),
                Stream.of("partition/fares.a", "fares.band FOR VALUES FROM ('a') TO ('b')"))
            .toArray(String[]::new);
    stands(BAND, parted(rest)).becomes(BAND, parted(more));
    assertThat(rules()).as("there is no row in it").isEmpty();
    counts(Question.Type.ROWS, 2);
    assertThat(rules()).containsExactly("RISK default-partition");
  }

  @Test
  void everyValueFitsTheNewType() {
    counts(Question.Type.NOT_FITTING, 1);
    stands(BAND, plain()).becomes(BAND, with(plain(), required("zone", "text", null)));
    assertThat(rules()).as("its type stays").isEmpty();
    becomes(BAND, with(plain(), column("zone", "integer")));
    assertThat(rules()).containsExactly("BLOCKER value-does-not-fit");
  }

  /** A value that the run itself writes is not in the way of the type. */
  @Test
  void aValueThatTheRunWritesNeedNotFit() {
    answers.put(Question.Type.NOT_FITTING, q -> q.without().isEmpty() ? 1L : 0L);
    stands(BAND, plain()).becomes(BAND, with(plain(), column("zone", "integer")));
    assertThat(rules()).containsExactly("BLOCKER value-does-not-fit");
    becomes(BAND, with(plain(), column("zone", "integer")), row("PEAK:many", "PEAK:7"));
    assertThat(rules()).isEmpty();
    assertThat(asked)
        .filteredOn(q -> q.type() == Question.Type.NOT_FITTING)
        .singleElement()
        .satisfies(q -> assertThat(q.without().values()).containsExactly(List.of("PEAK")));
  }

  @Test
  void aColumnThatMustHaveAValueHasOne() {
    stands(BAND, plain()).becomes(BAND, with(plain(), required("zone", "text", null)));
    assertThat(rules()).isEmpty();
    counts(Question.Type.NULLS, 1);
    assertThat(rules()).containsExactly("BLOCKER null-in-not-null");
  }

  @Test
  void aNewColumnThatMustHaveAValueGetsItFromItsDefault() {
    counts(Question.Type.ROWS, 1);
    stands(BAND, plain()).becomes(BAND, with(plain(), required("note", "text", "'x'::text")));
    assertThat(rules()).isEmpty();
    becomes(BAND, with(plain(), required("note", "text", null)));
    assertThat(rules()).containsExactly("BLOCKER null-in-not-null");
  }

  @Test
  void rowsOfTheRunHaveTheValueThatTheyMustHave() {
    TableStructure result = with(plain(), required("zone", "text", null));
    stands(BAND, plain()).becomes(BAND, result, row(null, "NEW:b"));
    assertThat(rules()).isEmpty();
    becomes(BAND, result, row(null, "NEW"));
    assertThat(rules()).containsExactly("BLOCKER null-in-not-null");
  }

  @Test
  void whatAWayBackSettledIsNotInTheWay() {
    counts(Question.Type.NULLS, 1);
    TableStructure result = with(plain(), required("zone", "text", null));
    stands(BAND, plain()).becomes(BAND, result);
    TablesDelta.TableDelta open = deltas.get(0);
    deltas.set(0, open.with(new TablesDelta.Fitted(List.of(), Set.of("column/zone"))));
    assertThat(rules()).isEmpty();
    deltas.set(0, open.with(new TablesDelta.Fitted(List.of(), Set.of("column/other"))));
    assertThat(rules()).containsExactly("BLOCKER null-in-not-null");
  }

  @Test
  void whatMustBeUniqueIs() {
    stands(BAND, plain()).becomes(BAND, plain(unique("zone")));
    assertThat(rules()).isEmpty();
    counts(Question.Type.DUPLICATES, 1);
    assertThat(rules()).containsExactly("BLOCKER duplicate-in-unique");
    assertThat(findings().get(0).advice()).startsWith("Correct the rows at the site first");
    becomes(BAND, with(plain(unique("note")), column("note", "text")));
    assertThat(rules()).as("nothing stands in a column that comes").isEmpty();
  }

  private static TableStructure indexed(String over) {
    TableStructure s = plain();
    return new TableStructure(
        s.columns(),
        s.constraints(),
        List.of(
            new Index(
                "once", true, "CREATE UNIQUE INDEX once ON fares.band USING btree (" + over + ")")),
        null);
  }

  @Test
  void aUniqueIndexIsCountedWhereItCanBe() {
    stands(BAND, plain()).becomes(BAND, indexed("zone"));
    assertThat(rules()).isEmpty();
    counts(Question.Type.DUPLICATES, 1);
    assertThat(rules()).containsExactly("BLOCKER duplicate-in-unique");
    counts(Question.Type.DUPLICATES, 0).becomes(BAND, indexed("lower(zone)"));
    assertThat(rules()).isEmpty();
    counts(Question.Type.DUPLICATES_BY, 1);
    assertThat(rules()).containsExactly("BLOCKER duplicate-in-unique");
    becomes(BAND, indexed("zone text_pattern_ops"));
    assertThat(rules()).as("not counted, and said").containsExactly("RISK duplicate-in-unique");
  }

  @Test
  void aCheckIsMet() {
    stands(BAND, plain()).becomes(BAND, plain(check()));
    assertThat(rules()).isEmpty();
    counts(Question.Type.VIOLATING, 1);
    assertThat(rules()).containsExactly("BLOCKER check-violated");
    stands(BAND, plain(check())).becomes(BAND, with(plain(check()), column("note", "text")));
    assertThat(rules()).as("it is there already").isEmpty();
  }

  @Test
  void aForeignKeyPointsAtSomething() {
    stands(BAND, plain()).stands(LINE, plain());
    becomes(LINE, plain(foreign("")));
    assertThat(rules()).isEmpty();
    counts(Question.Type.ORPHANS, 1);
    assertThat(rules()).containsExactly("BLOCKER orphan-in-foreign-key");
    assertThat(findings().get(0).advice()).startsWith("Add what they point at, or correct them");
  }

  /** Of a column that comes, it is the version that gives the rows their values. */
  @Test
  void whatAColumnThatComesPointsAtIsTheVersionsToSay() {
    TableStructure was = table(List.of(required("code", "text", null)), primary());
    Column zone = new Column("zone", "text", false, "'x'::text", null, null, null, null, null);
    stands(BAND, plain()).stands(LINE, was).becomes(LINE, with(plain(foreign("")), zone));
    counts(Question.Type.ORPHANS, 3);

    assertThat(rules()).containsExactly("BLOCKER orphan-in-foreign-key");
    assertThat(findings().get(0).advice()).startsWith("What they will hold in zone comes with");
  }

  private static Column text(String name, @Nullable String otherwise) {
    return new Column(name, "text", false, otherwise, null, null, null, null);
  }

  private static Constraint pointingAt(String column) {
    return new Constraint(
        "line_band",
        Constraint.Type.FOREIGN,
        "FOREIGN KEY (zone) REFERENCES fares.band(" + column + ")",
        List.of("zone"),
        BAND,
        List.of(column));
  }

  /** A column that comes is asked about with what it will hold. */
  @Test
  void whatIsPointedAtMayComeWithThePlan() {
    stands(BAND, plain()).becomes(BAND, with(plain(), text("mark", "'x'::text")));
    stands(LINE, plain()).becomes(LINE, plain(pointingAt("mark")));
    counts(Question.Type.ORPHANS, 2);

    assertThat(rules()).containsExactly("BLOCKER orphan-in-foreign-key");
    Question.Hop hop = asked(Question.Type.ORPHANS).path().get(0);
    assertThat(hop.becoming().made())
        .extracting(m -> m.column() + " " + m.from().expression())
        .containsExactly("mark 'x'::text");
    assertThat(hop.becoming().kept()).containsExactly("code", "zone");
    assertThat(asked(Question.Type.ORPHANS).text()).isEmpty();
  }

  /** Each row draws a number of its own: nobody knows beforehand which. */
  @Test
  void whatIsPointedAtMayNotBeKnownBeforehand() {
    Column drawn =
        new Column("mark", "integer", false, "nextval('s'::regclass)", null, null, null, null);
    stands(BAND, plain()).becomes(BAND, with(plain(), drawn));
    stands(LINE, plain()).becomes(LINE, plain(pointingAt("mark")));
    counts(Question.Type.ROWS, 2);

    assertThat(rules()).contains("RISK not-counted");
    assertThat(asked).noneMatch(q -> q.type() == Question.Type.ORPHANS);
    counts(Question.Type.ROWS, 0);
    assertThat(rules()).as("no row points").doesNotContain("RISK not-counted");
  }

  /** Rows that the run takes away are not there to be pointed at. */
  @Test
  void rowsThatGoAreNotPointedAt() {
    stands(BAND, plain()).stands(LINE, plain());
    becomes(BAND, plain());
    becomes(LINE, plain(foreign("")));
    deltas.set(0, TablesDelta.TableDelta.of(BAND, plain(), plain(), rows(row("PEAK", null))));
    rules();

    assertThat(asked(Question.Type.ORPHANS).path().get(0).gone().values())
        .containsExactly(List.of("PEAK"));
  }

  /** An integer that becomes a uuid is held against one by its text. */
  @Test
  void typesThatDoNotMeetAreHeldAgainstEachOtherByTheirTexts() {
    Column number = column("zone", "integer");
    stands(BAND, plain())
        .becomes(
            BAND,
            with(
                plain(),
                new Column("mark", "uuid", false, "gen_random_uuid()", null, null, null, null)));
    stands(LINE, with(plain(), number))
        .becomes(LINE, with(plain(pointingAt("mark")), column("zone", "uuid")));
    counts(Question.Type.ORPHANS, 1);

    assertThat(rules()).containsExactly("BLOCKER orphan-in-foreign-key");
    assertThat(asked(Question.Type.ORPHANS).text()).containsExactly(Question.AS_TEXT);
    counts(Question.Type.NOT_FITTING, 1);
    assertThat(rules())
        .as("what does not fit is said once")
        .containsExactly("BLOCKER value-does-not-fit");
  }

  /** So are rows that come back from a backup, beside the version's or without. */
  @Test
  void rowsThatComeBackMayBePointedAt() {
    stands(BAND, plain()).stands(LINE, plain());
    becomes(BAND, plain());
    becomes(LINE, plain(foreign("")));
    deltas.set(
        0,
        deltas.get(0).with(new TablesDelta.Fitted(List.of(rows(row(null, "PEAK:a"))), Set.of())));
    assertThat(rules()).isEmpty();
    assertThat(asked)
        .filteredOn(q -> q.type() == Question.Type.ORPHANS)
        .allSatisfy(q -> assertThat(q.given().values()).containsExactly(List.of("PEAK")))
        .isNotEmpty();
  }

  /** A table that comes without a row holds nothing to point at. */
  @Test
  void aForeignKeyPointsAtSomethingInATableThatComes() {
    stands(LINE, plain());
    becomes(BAND, plain());
    becomes(LINE, plain(foreign("")));
    assertThat(rules()).isEmpty();

    counts(Question.Type.ORPHANS, 1);
    assertThat(rules()).containsExactly("BLOCKER orphan-in-foreign-key");
    assertThat(findings().get(0).sentence()).contains("at nothing in fares.band");
    becomes(BAND, plain(), row(null, "PEAK:a"));
    assertThat(rules()).as("one that comes with rows").isEmpty();
  }

  private static Constraint excluding(String element) {
    return new Constraint(
        "apart",
        Constraint.Type.EXCLUDE,
        "EXCLUDE USING gist (" + element + ")",
        List.of("zone"),
        null,
        List.of());
  }

  @Test
  void rowsThatStandBesideOneAnotherAreInTheWayOfAnExclusion() {
    stands(BAND, plain()).becomes(BAND, plain(excluding("zone WITH =")));
    assertThat(rules()).isEmpty();

    counts(Question.Type.EXCLUDING, 2);
    assertThat(rules()).containsExactly("BLOCKER check-violated");
    assertThat(findings().get(0).sentence())
        .isEqualTo(
            "2 rows of fares.band stand beside one that apart does not allow: EXCLUDE USING gist (zone WITH =).");
    becomes(BAND, plain(excluding("zone WITH =")), row("PEAK:a", "PEAK:b"));
    assertThat(rules()).as("with rows that come").containsExactly("BLOCKER check-violated");
    assertThat(findings().get(0).sentence())
        .endsWith("; counted with the rows that the run writes.");
  }

  private Question asked(Question.Type type) {
    return asked.stream().filter(q -> q.type() == type).findFirst().orElseThrow();
  }

  /** What stays is asked about as it will be, what is written as it comes. */
  @Test
  void anExpressionIsCountedOverTheRowsOfAfterwards() {
    TableStructure lower = indexed("lower(zone), lower(area)");
    stands(BAND, plain());
    becomes(
        BAND,
        with(
            lower,
            new Column("area", "text", false, "'north'::text", null, null, null, null, null)));
    assertThat(rules()).isEmpty();
    assertThat(asked(Question.Type.DUPLICATES_BY).converted().made())
        .extracting(m -> m.column() + " " + m.from().expression())
        .containsExactly("area 'north'::text");
    counts(Question.Type.DUPLICATES_BY, 1);
    assertThat(rules()).containsExactly("BLOCKER duplicate-in-unique");
    assertThat(findings().get(0).advice())
        .startsWith("What they will hold in area comes with the version: bring other values there");

    counts(Question.Type.DUPLICATES_BY, 0);
    becomes(BAND, with(indexed("lower(zone)"), column("zone", "character varying(9)")));
    assertThat(rules()).as("in another type").isEmpty();
    assertThat(asked(Question.Type.DUPLICATES_BY).converted().made())
        .extracting(m -> m.type() + " " + m.from().expression())
        .containsExactly("character varying(9) zone");
    becomes(BAND, with(indexed("lower(zone)"), required("zone", "text", "'x'::text")));
    assertThat(rules()).as("nothing else matters of a column").isEmpty();
    assertThat(asked(Question.Type.DUPLICATES_BY).converted().isEmpty()).isTrue();

    becomes(
        BAND,
        indexed("lower(zone)"),
        row(null, "PEAK:a"),
        row("LOW:a", "LOW"),
        row("GONE:c", null));
    assertThat(rules()).isEmpty();
    Question q = asked(Question.Type.DUPLICATES_BY);
    assertThat(q.given().columns()).containsExactly("zone");
    assertThat(q.given().values())
        .containsExactly(List.of("a"), java.util.Collections.singletonList(null));
    assertThat(q.without().values())
        .containsExactly(List.of("PEAK"), List.of("LOW"), List.of("GONE"));
    counts(Question.Type.DUPLICATES_BY, 1);
    assertThat(rules()).containsExactly("BLOCKER duplicate-in-unique");
  }

  /** An index over a constant lets one row be there: rows count that nothing is read of. */
  @Test
  void rowsOfAnIndexThatReadsNothingAreStillRows() {
    stands(BAND, plain()).becomes(BAND, indexed("(true)"), row(null, "PEAK:a"), row(null, "LOW:a"));
    assertThat(rules()).isEmpty();
    assertThat(asked(Question.Type.DUPLICATES_BY).given().columns()).containsExactly("code");
    assertThat(asked(Question.Type.DUPLICATES_BY).given().values())
        .containsExactly(List.of("PEAK"), List.of("LOW"));
  }

  @Test
  void whatCannotBeToldOfRowsOfAfterwardsIsSaid() {
    Column drawn = new Column("area", "bigint", true, null, "by default", null, null, null, null);
    stands(BAND, plain()).becomes(BAND, with(indexed("lower(zone), ((area % 9))"), drawn));
    assertThat(rules()).as("a number of its own").containsExactly("RISK duplicate-in-unique");

    Column area = new Column("area", "text", false, "'x'::text", null, null, null, null, null);
    becomes(BAND, with(indexed("lower(zone), lower(area)"), area), row(null, "PEAK:a"));
    assertThat(rules())
        .as("not all of a row is at hand")
        .containsExactly("RISK duplicate-in-unique");
    counts(Question.Type.DUPLICATES_BY, 1);
    assertThat(rules()).as("among those that stay").containsExactly("BLOCKER duplicate-in-unique");

    becomes(BAND, indexed("lower(zone)"), row(null, "PEAK:a"));
    deltas.set(
        0,
        deltas.get(0).with(new TablesDelta.Fitted(List.of(rows(row("LOW:a", "LOW:b"))), Set.of())));
    counts(Question.Type.DUPLICATES_BY, 0);
    assertThat(rules())
        .as("two sets may write one row")
        .containsExactly("RISK duplicate-in-unique");

    becomes(BAND, indexed("lower(zone)"), many(Question.Tuples.MOST + 1));
    assertThat(rules()).as("too many to leave out").containsExactly("RISK duplicate-in-unique");
    counts(Question.Type.DUPLICATES_BY, 1);
    assertThat(rules()).containsExactly("RISK duplicate-in-unique");
    assertThat(findings().get(0).sentence())
        .endsWith("counted before the many rows that the run writes.");
    becomes(BAND, with(indexed("lower(zone), lower(area)"), area), many(Question.Tuples.MOST + 1));
    assertThat(rules()).containsExactly("RISK duplicate-in-unique");
    assertThat(asked)
        .as("in a column that comes they hold something else")
        .noneMatch(q -> q.type() == Question.Type.DUPLICATES_BY);
  }

  private static TablesDelta.RowChange[] many(int rows) {
    TablesDelta.RowChange[] out = new TablesDelta.RowChange[rows];
    for (int n = 0; n < rows; n++) {
      out[n] = row(null, "R" + n + ":a");
    }
    return out;
  }

  @Test
  void whatCannotBeCountedOfAnExclusionIsSaid() {
    stands(BAND, plain()).becomes(BAND, plain(excluding("zone COLLATE \"C\" WITH =")));
    assertThat(rules()).as("a collation of its own").containsExactly("RISK not-counted");
    becomes(BAND, plain(excluding("lower(zone) WITH =")));
    assertThat(rules()).as("an expression").isEmpty();

    becomes(BAND, plain(excluding("zone WITH &&")));
    assertThat(rules()).isEmpty();
    counts(Question.Type.ROWS, ExclusionRules.MOST + 1);
    assertThat(rules()).as("each beside each").containsExactly("RISK not-counted");
    becomes(BAND, plain(excluding("zone WITH =, code WITH &&")));
    assertThat(rules()).as("one column is equal").isEmpty();
    becomes(BAND, plain(excluding("int4range(low, high) WITH &&")));
    assertThat(rules()).as("in the order of ranges").isEmpty();

    becomes(BAND, plain(excluding("zone WITH &&")), row(null, "PEAK:a"));
    counts(Question.Type.ROWS, ExclusionRules.MOST);
    assertThat(rules()).as("those that come count").containsExactly("RISK not-counted");

    becomes(BAND, with(plain(excluding("later WITH =")), column("later", "text")));
    assertThat(rules()).as("a column that comes").isEmpty();
    becomes(BAND, with(plain(excluding("later WITH =")), column("later", "fares.span")));
    assertThat(rules()).as("of a type with a value of its own").containsExactly("RISK not-counted");
  }

  @Test
  void whatAForeignKeyPointsAtIsThereOrComes() {
    stands(LINE, plain()).becomes(LINE, plain(foreign("")));
    assertThat(rules()).containsExactly("BLOCKER reference-missing");
    becomes(BAND, plain());
    assertThat(rules()).isEmpty();
  }

  @Test
  void nothingThatStaysUsesWhatGoes() {
    stands(BAND, plain()).becomes(BAND, table(List.of(required("code", "text", null)), primary()));
    assertThat(rules()).isEmpty();
    counts(Question.Type.DEPENDENTS, 1);
    assertThat(rules()).containsExactly("BLOCKER dependent-breaks");
  }

  @Test
  void noForeignKeyThatStaysPointsAtATableThatGoes() {
    stands(BAND, plain()).stands(LINE, plain(foreign(""))).becomes(BAND, null);
    assertThat(rules()).containsExactly("BLOCKER dependent-breaks");
    becomes(LINE, plain());
    assertThat(rules()).as("it goes too").isEmpty();
  }

  /** The server holds a foreign key to the key that was there when it was made. */
  @Test
  void aKeyThatForeignKeysPointAtGivesWayToAnotherOverTheSameColumns() {
    TableStructure once = table(plain().columns(), unique("code"));
    stands(BAND, once).stands(LINE, plain(foreign("")));
    becomes(BAND, table(plain().columns())).becomes(LINE, plain(foreign("")));
    assertThat(rules()).as("nothing keeps it").containsExactly("BLOCKER dependent-breaks");
    becomes(BAND, table(plain().columns(), primary()));
    assertThat(rules()).as("it is made again").isEmpty();
    becomes(LINE, plain(foreign(" ON DELETE CASCADE")));
    assertThat(rules()).as("it is made anyway").isEmpty();
  }

  @Test
  void aLargeTableIsLockedForLong() {
    stands(BAND, plain()).becomes(BAND, with(plain(), column("note", "text")));
    counts(Question.Type.BYTES, 100L << 20);
    assertThat(rules()).isEmpty();
    counts(Question.Type.BYTES, (100L << 20) + 1);
    assertThat(rules()).containsExactly("RISK long-lock");
    becomes(BAND, plain(), row("PEAK:a", "PEAK:b"));
    assertThat(rules()).as("its structure stays").isEmpty();
  }

  private ComponentResult result(long conflict, long kept) {
    Map<Difference, Long> by = new EnumMap<>(Difference.class);
    by.put(Difference.CONFLICT, conflict);
    by.put(Difference.KEPT, kept);
    return new ComponentResult(BANDS, Difference.CONFLICT, Counts.of(by), List.of(), "");
  }

  @Test
  void aConflictIsDecided() {
    conflicts.add(new RowDifference(Difference.CONFLICT, null, values("PEAK:a"), values("PEAK:b")));
    components.add(result(1, 0));
    assertThat(rules()).containsExactly("BLOCKER conflict-undecided");
    decisions.put(BANDS + "#row/\"PEAK\"", Decision.KEEP);
    assertThat(rules()).isEmpty();
    decisions.put(BANDS + "#row/\"PEAK\"", Decision.TAKE_INCOMING);
    assertThat(rules())
        .as("and what is overwritten is said")
        .containsExactly("RISK drift-overwritten");
  }

  @Test
  void aConflictOfAPartIsDecidedByItsPath() {
    ComponentKey key = ComponentKey.of("table/fares.band");
    Map<Difference, Long> by = Map.of(Difference.CONFLICT, 1L);
    components.add(
        new ComponentResult(
            key,
            Difference.CONFLICT,
            Counts.of(by),
            List.of(
                new PartDifference(
                    PartDifference.Part.COLUMN, "zone", Difference.CONFLICT, List.of(), null)),
            ""));
    assertThat(rules()).containsExactly("BLOCKER conflict-undecided");
    decisions.put(key.toString(), Decision.TAKE_INCOMING);
    assertThat(rules()).containsExactly("RISK drift-overwritten");
  }

  @Test
  void whatStaysAsItIsIsNoted() {
    components.add(result(0, 1));
    assertThat(rules()).containsExactly("NOTE hand-made-kept");
    components.set(0, result(0, 0));
    assertThat(rules()).isEmpty();
  }

  @Test
  void noRowThatStaysPointsAtOneThatGoes() {
    stands(BAND, plain()).stands(LINE, plain(foreign("")));
    becomes(BAND, plain(), row("PEAK:a", null));
    assertThat(rules()).isEmpty();
    counts(Question.Type.POINTING, 1);
    assertThat(rules()).containsExactly("BLOCKER row-needed");
    stands(LINE, plain(foreign(" ON DELETE CASCADE")));
    assertThat(rules()).as("the database takes it along").containsExactly("RISK row-needed");
    stands(LINE, plain());
    assertThat(rules()).as("nothing can point there").isEmpty();
  }

  /** A target that is asked about a column it does not have refuses, and nothing could go back. */
  @Test
  void nothingPointsByAColumnThatOnlyComes() {
    counts(Question.Type.POINTING, 1);
    TableStructure without =
        table(List.of(required("code", "text", null), column("other", "text")), primary());
    stands(BAND, plain()).stands(LINE, without);
    becomes(BAND, plain(), row("PEAK:a", null)).becomes(LINE, plain(foreign("")));
    assertThat(rules()).isEmpty();
    assertThat(asked).noneMatch(q -> q.type() == Question.Type.POINTING);
    stands(LINE, plain()).becomes(LINE, plain(foreign("")));
    assertThat(rules()).containsExactly("BLOCKER row-needed");
  }

  /** Rows that a way back takes out count like those of a version. */
  @Test
  void noRowThatStaysPointsAtOneThatDoesNotFit() {
    stands(BAND, plain()).stands(LINE, plain(foreign(""))).becomes(BAND, plain());
    counts(Question.Type.POINTING, 1);
    assertThat(rules()).isEmpty();
    deltas.set(
        0,
        deltas.get(0).with(new TablesDelta.Fitted(List.of(rows(row("PEAK:a", null))), Set.of())));
    assertThat(rules()).containsExactly("BLOCKER row-needed");
  }

  @Test
  void aRowOfTheVersionPointsAtARow() {
    stands(BAND, plain()).stands(LINE, plain(foreign("")));
    becomes(LINE, plain(foreign("")), row(null, "NORTH:PEAK"));
    assertThat(rules()).isEmpty();
    counts(Question.Type.UNKNOWN, 1);
    assertThat(rules()).containsExactly("BLOCKER row-missing");
    becomes(BAND, plain(), row(null, "PEAK:a"));
    assertThat(rules()).as("it comes with the version").isEmpty();
  }

  /** What comes back from a backup is a set by itself, beside rows of the version or without. */
  @Test
  void aRowOfTheVersionPointsAtARowThatComesBack() {
    stands(LINE, plain(foreign("")));
    becomes(BAND, plain());
    becomes(LINE, plain(foreign("")), row(null, "NORTH:PEAK"));
    assertThat(rules()).contains("BLOCKER row-missing");

    deltas.set(
        0,
        deltas.get(0).with(new TablesDelta.Fitted(List.of(rows(row(null, "PEAK:a"))), Set.of())));
    assertThat(rules()).isEmpty();
  }

  @Test
  void aValueThatMustBeUniqueIsNotTaken() {
    TableStructure once = plain(unique("zone"));
    stands(BAND, once).becomes(BAND, once, row(null, "NEW:a"));
    assertThat(rules()).isEmpty();
    counts(Question.Type.CLASHING, 1);
    assertThat(rules()).containsExactly("BLOCKER value-taken");
    counts(Question.Type.CLASHING, 0).becomes(BAND, once, row(null, "NEW:a"), row(null, "OTHER:a"));
    assertThat(rules()).as("twice in the version").containsExactly("BLOCKER value-taken");
  }

  @Test
  void aValueCanBeBackedUp() {
    TableStructure lists = with(plain(), column("stops", "text[]"));
    stands(BAND, lists).becomes(BAND, with(lists, column("note", "text")));
    counts(Question.Type.OVERSIZE, 1);
    assertThat(rules()).containsExactly("BLOCKER value-too-large");
    TableStructure texts = with(plain(), column("drawing", "bytea"));
    stands(BAND, texts).becomes(BAND, with(texts, column("note", "text")));
    assertThat(rules()).as("a long text or file stands beside its row").isEmpty();
    TableStructure numbers = table(List.of(required("code", "integer", null)), primary());
    stands(BAND, numbers).becomes(BAND, with(numbers, column("level", "integer")));
    assertThat(rules()).as("no column of it can hold one").isEmpty();
  }

  @Test
  void foreignCodeThatRunsIsSaid() {
    counts(Question.Type.CODE, 1);
    stands(BAND, plain()).becomes(BAND, with(plain(), column("note", "text")));
    assertThat(rules()).as("no row is written").isEmpty();
    becomes(BAND, plain(), row(null, "NEW:a"));
    assertThat(rules()).containsExactly("RISK foreign-code");
  }

  @Test
  void rowsThatAreLookedForWithoutAnIndexAreSaidWithTheirTime() {
    stands(BAND, plain()).becomes(BAND, plain(), row("GONE:a", null), row("OTHER:a", null));
    counts(Question.Type.UNINDEXED, 299L << 20);
    assertThat(rules()).as("just short of a second").isEmpty();

    counts(Question.Type.UNINDEXED, 300L << 20);

    assertThat(findings())
        .singleElement()
        .satisfies(f -> assertThat(f.rule()).isEqualTo("check-without-index"))
        .satisfies(
            f ->
                assertThat(f.sentence())
                    .startsWith(
                        "For each of the 2 rows of fares.band that go, the database reads 300 MB of what points at the table, as no index begins with its columns: about 1 second in which nobody writes."));
    becomes(BAND, plain(), row(null, "NEW:a"));
    assertThat(rules()).as("nothing goes").isEmpty();
  }

  /** A rule that cannot ask its target stops what it would stop if it were violated. */
  @Test
  void whatCannotBeCountedCountsAsNotPassed() {
    answers.put(
        Question.Type.NULLS,
        q -> {
          throw new IllegalStateException("the server is gone");
        });
    stands(BAND, plain()).becomes(BAND, with(plain(), required("zone", "text", null)));
    assertThat(findings())
        .singleElement()
        .satisfies(f -> assertThat(f.rule()).isEqualTo("null-in-not-null"))
        .satisfies(f -> assertThat(f.severity()).isEqualTo(Finding.Severity.BLOCKER))
        .satisfies(f -> assertThat(f.sentence()).contains("the server is gone"));
  }
}
