package plenzo.core.impact;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import plenzo.core.comparison.Counts;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.inventory.NamedThings;
import plenzo.core.inventory.Uncarried;
import plenzo.core.inventory.Uncarried.Sort;
import plenzo.core.object.SchemaObject;
import plenzo.core.object.SomeObjects;
import plenzo.core.promotion.Promotion.ComponentResult;
import plenzo.core.records.Header;
import plenzo.core.table.Column;
import plenzo.core.table.Constraint;
import plenzo.core.table.Index;
import plenzo.core.table.Printed;
import plenzo.core.table.Setting;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Question;
import plenzo.core.target.Rows;
import plenzo.core.target.TablesDelta;

/** Each rule at the smallest case that violates it, and one just short of it. */
class UncarriedRulesTest {
  private static final TableName BAND = TableName.of("fares.band");
  private static final TableStructure PLAIN = table(null);
  private static final TableStructure DRAWING = table("nextval('fares.s'::regclass)");

  private static TableStructure table(@Nullable String expression) {
    return new TableStructure(
        List.of(new Column("n", "bigint", false, expression, null, null, null, null)),
        List.of(),
        List.of(),
        null);
  }

  private static List<String> found(
      @Nullable TableStructure present, @Nullable TableStructure result, Uncarried... there) {
    return found(TablesDelta.TableDelta.of(BAND, present, result, null), there).stream()
        .map(f -> f.severity() + " " + f.rule() + " " + f.place())
        .toList();
  }

  private static List<Finding> found(TablesDelta.TableDelta change, Uncarried... there) {
    TableStructure present = change.present();
    return Rules.run(
        UncarriedRules.ALL,
        new ImpactCase(
            List.of(),
            Map.of(),
            new TablesDelta(List.of(change), List.of()),
            present == null ? Map.of() : Map.of(BAND, present),
            Map.of(),
            List.of(there),
            (component, difference, limit, row) -> {},
            question -> {
              throw new IllegalStateException("Nothing is asked");
            }));
  }

  private static Uncarried thing(Sort sort, String name, @Nullable TableName on) {
    return new Uncarried(sort, name, on, "d");
  }

  @Test
  void aDefaultNeedsItsSequenceThere() {
    assertThat(found(PLAIN, DRAWING))
        .containsExactly("BLOCKER sequence-missing table/fares.band#column/n");
    assertThat(found(null, DRAWING))
        .containsExactly("BLOCKER sequence-missing table/fares.band#column/n");
    assertThat(found(PLAIN, DRAWING, thing(Sort.SEQUENCE, "fares.s", null)))
        .containsExactly("NOTE not-carried the site");
    assertThat(found(DRAWING, PLAIN)).as("it draws no more").isEmpty();
    assertThat(found(DRAWING, null)).as("it goes").isEmpty();
  }

  private static List<String> needing(String expression, String... absent) {
    return needing(table(expression), absent).stream()
        .map(f -> f.severity() + " " + f.rule() + " " + f.place())
        .toList();
  }

  private static List<Finding> needing(TableStructure result, String... absent) {
    return asking(
        new Silent() {
          @Override
          public Set<NamedThings.Name> absent(Set<NamedThings.Name> names) {
            return names.stream()
                .filter(n -> List.of(absent).contains(n.toString()))
                .collect(Collectors.toSet());
          }
        },
        TablesDelta.TableDelta.of(BAND, null, result, null));
  }

  /** A target of which no rows are counted. */
  private static class Silent implements ImpactCase.Asking {
    @Override
    public Question.Answer answer(Question question) {
      throw new IllegalStateException("Nothing is asked");
    }
  }

  /** Of tables that are not compared with others. */
  private static List<Finding> asking(ImpactCase.Asking target, TablesDelta.TableDelta... changes) {
    return Rules.run(
        UncarriedRules.ALL,
        new ImpactCase(
            List.of(),
            Map.of(),
            new TablesDelta(List.of(changes), List.of()),
            Map.of(),
            Map.of(),
            List.of(),
            (component, difference, limit, row) -> {},
            target));
  }

  @Test
  void whatAnExpressionUsesMustBeThere() {
    assertThat(needing("fares.next_code()", "fares.next_code"))
        .containsExactly("BLOCKER needed-missing table/fares.band#column/n");
    assertThat(needing("fares.next_code()", "fares.other")).as("it is there").isEmpty();
    assertThat(needing("now()", "pg_catalog.now")).as("the server's own").isEmpty();
    assertThat(needing("fares.f((1)::fares.band)", "fares.band"))
        .as("its own row type comes with it")
        .isEmpty();
  }

  @Test
  void whatManyUseIsSaidOnce() {
    TableStructure is =
        new TableStructure(
            java.util.stream.IntStream.range(0, 8)
                .mapToObj(
                    n -> new Column("c" + n, "fares.citext", false, null, null, null, null, null))
                .toList(),
            List.of(),
            List.of(),
            null);

    assertThat(needing(is, "fares.citext"))
        .singleElement()
        .satisfies(
            f -> {
              assertThat(f.place()).isEqualTo("table/fares.band#column/c0");
              assertThat(f.count()).isEqualTo(8);
              assertThat(f.sentence())
                  .isEqualTo(
                      "table/fares.band#column/c0 uses fares.citext, which is not at the site and does not come; 7 more places use it too.");
              assertThat(f.examples()).hasSize(5);
              assertThat(f.advice()).endsWith("CREATE EXTENSION … SCHEMA fares");
            });
  }

  @Test
  void aPolicyOnATouchedTableIsARisk() {
    assertThat(found(PLAIN, PLAIN, thing(Sort.POLICY, "own", BAND)))
        .containsExactly(
            "RISK row-policy table/fares.band#policy/own", "NOTE not-carried the site");
    assertThat(found(PLAIN, PLAIN, thing(Sort.POLICY, "own", TableName.of("fares.zone"))))
        .containsExactly("NOTE not-carried the site");
  }

  @Test
  void aPolicyThatStandsThereAndIsNotInTheVersionIsARisk() {
    String own = "policy/fares.band.own";
    assertThat(beside(own, List.of()))
        .containsExactly("RISK row-policy table/fares.band#policy/own");
    assertThat(beside(own, List.of(own))).as("it is in the version").isEmpty();
    assertThat(beside("policy/fares.zone.own", List.of())).as("of another table").isEmpty();
    assertThat(beside("trigger/fares.band.own", List.of())).as("no policy").isEmpty();
  }

  private static TableStructure secured(String... settings) {
    return new TableStructure(
        PLAIN.columns(),
        PLAIN.constraints(),
        PLAIN.indexes(),
        null,
        java.util.Arrays.stream(settings).map(s -> new Setting(s, "yes")).toList());
  }

  @Test
  void rowSecurityThatComesIsARisk() {
    String comes = "RISK row-policy table/fares.band#setting/row security";
    TableStructure on = secured(Setting.ROW_SECURITY);
    assertThat(found(PLAIN, on)).containsExactly(comes);
    assertThat(found(on, PLAIN)).isEmpty();
    assertThat(found(on, on)).isEmpty();
    assertThat(found(PLAIN, secured(Setting.OWNERS_ROW_SECURITY))).isEmpty();
    assertThat(found(null, on)).as("whether it is read then is not known").containsExactly(comes);
  }

  private static List<String> readingAll(TablesDelta.TableDelta... changes) {
    return asking(
            new Silent() {
              @Override
              public boolean readsAllRows() {
                return true;
              }
            },
            changes)
        .stream()
        .map(f -> f.severity() + " " + f.sentence().replaceFirst(":.*", ""))
        .toList();
  }

  @Test
  void rowSecurityOfWhatIsNewIsSaidOnceToWhoReadsAllRows() {
    TableStructure on = secured(Setting.ROW_SECURITY);
    List<TablesDelta.TableDelta> made = new ArrayList<>();
    for (int n = 1; n <= 7; n++) {
      made.add(TablesDelta.TableDelta.of(TableName.of("fares.t" + n), null, on, null));
    }
    assertThat(readingAll(made.toArray(TablesDelta.TableDelta[]::new)))
        .containsExactly(
            "NOTE Row security comes with fares.t1, fares.t2, fares.t3, fares.t4, fares.t5 and 2 more");
    assertThat(readingAll(TablesDelta.TableDelta.of(BAND, PLAIN, on, null), made.get(0)))
        .containsExactly(
            "RISK Row security comes with fares.band", "NOTE Row security comes with fares.t1");
  }

  private static List<String> beside(String there, List<String> carried) {
    ComponentKey key = ComponentKey.of(there);
    SchemaObject.Sort sort =
        key.kind() == Kind.POLICY ? SchemaObject.Sort.POLICY : SchemaObject.Sort.TRIGGER;
    return Rules.run(
            UncarriedRules.ALL,
            new ImpactCase(
                carried.stream().map(UncarriedRulesTest::compared).toList(),
                Map.of(),
                new TablesDelta(
                    List.of(TablesDelta.TableDelta.of(BAND, PLAIN, PLAIN, null)), List.of()),
                Map.of(BAND, PLAIN),
                Map.of(key, SomeObjects.object(there, sort, "p")),
                List.of(),
                (component, difference, limit, row) -> {},
                question -> {
                  throw new IllegalStateException("Nothing is asked");
                }))
        .stream()
        .map(f -> f.severity() + " " + f.rule() + " " + f.place())
        .toList();
  }

  private static ComponentResult compared(String key) {
    return new ComponentResult(ComponentKey.of(key), Difference.ADDED, Counts.NONE, List.of(), "");
  }

  @Test
  void whatIsNotCarriedIsNamed() {
    assertThat(found(PLAIN, PLAIN)).isEmpty();
    assertThat(found(PLAIN, PLAIN, thing(Sort.VIEW, "fares.dear", null)))
        .containsExactly("NOTE not-carried the site");
  }

  @Test
  void ofManyTheFirstAreNamedAndTheRestCounted() {
    Uncarried[] many =
        IntStream.range(0, 25)
            .mapToObj(i -> thing(Sort.VIEW, "fares.v" + (10 + i), null))
            .toArray(Uncarried[]::new);
    ImpactCase c =
        new ImpactCase(
            List.of(),
            Map.of(),
            TablesDelta.NONE,
            Map.of(),
            Map.of(),
            List.of(many),
            (component, difference, limit, row) -> {},
            question -> {
              throw new IllegalStateException("Nothing is asked");
            });

    assertThat(Rules.run(UncarriedRules.ALL, c))
        .singleElement()
        .satisfies(f -> assertThat(f.sentence()).contains("25 things").endsWith("and 5 more."));
  }

  private static List<String> bringing(String type, Difference act, String... columns) {
    TableStructure photos =
        new TableStructure(
            List.of(
                new Column("n", "bigint", true, null, null, null, null, null),
                new Column("photo", type, false, null, null, null, null, null)),
            List.of(),
            List.of(),
            null);
    Header header = new Header(List.of(columns), List.of("bigint", type), 1);
    TablesDelta.RowsDelta rows =
        Rows.of(header, List.of(), List.of(new TablesDelta.RowChange(act, null, null)));
    return found(TablesDelta.TableDelta.of(BAND, photos, photos, rows)).stream()
        .map(f -> f.severity() + " " + f.rule() + " " + f.place() + " " + f.sentence())
        .toList();
  }

  @Test
  void largeObjectsDoNotComeWithTheirNumbers() {
    assertThat(bringing("oid", Difference.CHANGED, "n", "photo"))
        .containsExactly(
            "RISK large-objects records/fares.band Of the rows that come, its column photo holds numbers that may be those of large objects: the numbers are carried, the objects are not.");
    assertThat(bringing("public.lo", Difference.ADDED, "n", "photo")).hasSize(1);
    assertThat(bringing("oid", Difference.REMOVED, "n", "photo")).isEmpty();
    assertThat(bringing("oid", Difference.CHANGED, "n", "name")).isEmpty();
    assertThat(bringing("bytea", Difference.CHANGED, "n", "photo")).isEmpty();
  }

  private static TableStructure parted(@Nullable Constraint constraint, @Nullable Index index) {
    return new TableStructure(
        PLAIN.columns(),
        constraint == null ? List.of() : List.of(constraint),
        index == null ? List.of() : List.of(index),
        null,
        List.of(
            new Setting("partitioned", "LIST (n)"),
            new Setting("partition/fares.band 1", "fares.band FOR VALUES IN ('1')")));
  }

  private static Uncarried ofPartition(String part, String definition) {
    return new Uncarried(
        Sort.OTHER,
        part + " of partition fares.band 1",
        null,
        Digest.of(Printed.of(definition)).hex());
  }

  private static List<String> joining(TableStructure result, Uncarried there) {
    return found(TablesDelta.TableDelta.of(BAND, parted(null, null), result, null), there).stream()
        .filter(f -> f.rule().equals("joins-table"))
        .map(f -> f.severity() + " " + f.rule() + " " + f.place() + " " + f.sentence())
        .toList();
  }

  @Test
  void whatAPartitionHasByItselfBecomesPartOfItsTables() {
    Constraint key =
        new Constraint("k", Constraint.Type.UNIQUE, "UNIQUE (n)", List.of("n"), null, List.of());
    Constraint check =
        new Constraint(
            "c", Constraint.Type.CHECK, "CHECK ((n > 0))", List.of("n"), null, List.of());
    Index index =
        new Index("i", false, "CREATE INDEX i ON ONLY fares.band USING btree (n) WHERE (n > 0)");

    assertThat(joining(parted(key, null), ofPartition("constraint mine", "UNIQUE (n)")))
        .containsExactly(
            "RISK joins-table table/fares.band#partition/fares.band 1 The constraint mine that the partition fares.band 1 has by itself becomes part of k of fares.band: going back takes it from the partition too.");
    assertThat(joining(parted(key, null), ofPartition("constraint mine", "UNIQUE (m)"))).isEmpty();
    assertThat(joining(parted(check, null), ofPartition("constraint c", "CHECK ((n > 0))")))
        .hasSize(1);
    assertThat(joining(parted(check, null), ofPartition("constraint d", "CHECK ((n > 0))")))
        .as("a check of another name stays by itself")
        .isEmpty();
    String printed = "CREATE INDEX mine ON fares.\"band 1\" USING btree (n)";
    assertThat(joining(parted(null, index), ofPartition("index mine", printed + " WHERE (n > 0)")))
        .hasSize(1);
    assertThat(joining(parted(null, index), ofPartition("index mine", printed))).isEmpty();
  }
}
