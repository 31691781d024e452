package plenzo.core.impact;

import static org.assertj.core.api.Assertions.assertThat;
import static plenzo.core.object.SomeObjects.labels;
import static plenzo.core.object.SomeObjects.object;
import static plenzo.core.object.SomeObjects.shaped;
import static plenzo.core.object.SomeObjects.view;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.TableName;
import plenzo.core.inventory.NamedThings.Name;
import plenzo.core.object.ObjectDelta;
import plenzo.core.object.ObjectsPlan;
import plenzo.core.object.SchemaObject;
import plenzo.core.object.SchemaObject.Sort;
import plenzo.core.table.Column;
import plenzo.core.table.Constraint;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Question;
import plenzo.core.target.TablesDelta;
import plenzo.core.target.TablesDelta.TableDelta;

/** Each rule at the smallest case that violates it, and one just short of it. */
class ObjectRulesTest {
  private static final TableName BAND = TableName.of("fares.band");

  private final Map<ComponentKey, SchemaObject> there = new TreeMap<>();
  private final Map<TableName, TableStructure> tables = new LinkedHashMap<>();
  private final List<ObjectsPlan.Change> changes = new ArrayList<>();
  private final List<TableDelta> deltas = new ArrayList<>();
  private final Map<Question.Type, Long> counts = new TreeMap<>();
  private final Set<String> extensions = new java.util.TreeSet<>();
  private final List<Question> asked = new ArrayList<>();

  private ObjectRulesTest stands(SchemaObject... objects) {
    for (SchemaObject o : objects) {
      there.put(o.key(), o);
    }
    return this;
  }

  private ObjectRulesTest becomes(String key, @Nullable SchemaObject next) {
    ComponentKey k = ComponentKey.of(key);
    changes.add(new ObjectsPlan.Change(k, there.get(k), next));
    return this;
  }

  private static TableStructure table(@Nullable Constraint check, String type) {
    return new TableStructure(
        List.of(new Column("code", type, false, null, null, null, null, null)),
        check == null ? List.of() : List.of(check),
        List.of(),
        null);
  }

  private static Constraint check(String condition) {
    return new Constraint(
        "c", Constraint.Type.CHECK, "CHECK (" + condition + ")", List.of("code"), null, List.of());
  }

  private List<Finding> findings() {
    TablesDelta bare = new TablesDelta(deltas, List.of());
    TablesDelta delta =
        new TablesDelta(deltas, List.of(), ObjectsPlan.of(changes, there, tables, bare, Set.of()));
    return Rules.run(
        ObjectRules.ALL,
        new ImpactCase(
            List.of(),
            Map.of(),
            delta,
            tables,
            there,
            List.of(),
            (component, difference, limit, sink) -> {},
            new ImpactCase.Asking() {
              @Override
              public Question.Answer answer(Question q) {
                asked.add(q);
                long count = counts.getOrDefault(q.type(), 0L);
                return new Question.Answer(
                    count, count > 0 ? List.of("operator fares.===(text,text)") : List.of(), "SQL");
              }

              @Override
              public Set<Name> absent(Set<Name> names) {
                return names.stream()
                    .filter(n -> n.name().equals("nothing"))
                    .collect(Collectors.toSet());
              }

              @Override
              public Set<String> extensions() {
                return extensions;
              }
            }));
  }

  private List<String> found() {
    return findings().stream().map(f -> f.severity() + " " + f.rule() + " " + f.place()).toList();
  }

  @Test
  void whatComesNeedsWhatIsThereOrComes() {
    SchemaObject v = view("fares.v", "v", "table/fares.band#column/code", "routine/fares.f()");
    becomes("view/fares.v", v);
    assertThat(findings())
        .extracting(Finding::sentence)
        .containsExactly(
            "view/fares.v uses routine/fares.f(), which is not at the site and does not come.",
            "view/fares.v uses table/fares.band, which is not at the site and does not come.");

    tables.put(BAND, table(null, "text"));
    becomes("routine/fares.f()", object("routine/fares.f()", Sort.FUNCTION, "f"));
    assertThat(found()).isEmpty();
  }

  /** Of schemas that belong to nobody the target is asked. */
  @Test
  void whatComesMayNeedWhatIsThereInASchemaOfNobody() {
    SchemaObject v = view("fares.v", "v", "routine/other.f(text)", "table/other.kept");
    becomes("view/fares.v", v);
    assertThat(found()).isEmpty();

    becomes("view/fares.v", view("fares.v", "v", "routine/other.nothing(text)"));
    assertThat(findings())
        .extracting(Finding::sentence)
        .containsExactly(
            "view/fares.v uses routine/other.nothing(text), which is not at the site and does not come.");
  }

  @Test
  void aColumnThatAViewNeedsMustBeThereAfterwards() {
    tables.put(BAND, table(null, "text"));
    becomes("view/fares.v", view("fares.v", "v", "table/fares.band#column/note"));

    assertThat(findings())
        .extracting(Finding::sentence)
        .containsExactly(
            "view/fares.v uses table/fares.band#column/note, which is not at the site and does not come.");
  }

  @Test
  void aColumnThatAViewAtTheSiteUsesDoesNotGo() {
    tables.put(BAND, table(null, "text"));
    SchemaObject v = view("fares.v", "v", "table/fares.band#column/code");
    stands(v);
    TableStructure without =
        new TableStructure(
            List.of(new Column("note", "text", false, null, null, null, null, null)),
            List.of(),
            List.of(),
            null);
    deltas.add(TableDelta.of(BAND, tables.get(BAND), without, null));

    assertThat(findings())
        .filteredOn(f -> f.severity().name().equals("BLOCKER"))
        .extracting(f -> f.rule() + ": " + f.sentence())
        .containsExactly(
            "dependent-breaks: view/fares.v stands at the site and uses table/fares.band#column/code, which goes.");
  }

  @Test
  void anExtensionIsAPrerequisite() {
    SchemaObject f =
        object("routine/fares.f()", Sort.FUNCTION, "f").needing(List.of(), List.of("pgcrypto"));
    becomes("routine/fares.f()", f);
    assertThat(found()).containsExactly("BLOCKER needed-missing extension pgcrypto");

    extensions.add("pgcrypto");
    assertThat(found()).isEmpty();
  }

  @Test
  void whatGoesIsNotWhatSomethingThatStaysIsBuiltOn() {
    SchemaObject f = object("routine/fares.f(text)", Sort.FUNCTION, "f");
    stands(f, view("fares.v", "v", "routine/fares.f(text)")).becomes("routine/fares.f(text)", null);
    tables.put(BAND, table(check("fares.f(code) > 1"), "text"));
    assertThat(found())
        .containsExactly(
            "BLOCKER dependent-breaks table/fares.band#constraint/c",
            "BLOCKER dependent-breaks view/fares.v",
            "NOTE made-again the site");

    becomes("view/fares.v", null);
    tables.put(BAND, table(null, "text"));
    assertThat(found()).isEmpty();
  }

  /** The database would refuse to take it away, and the plan cannot make the other again. */
  @Test
  void whatIsBuiltOnSomethingAndNotCarriedIsInItsWay() {
    SchemaObject f = object("routine/fares.f(text)", Sort.FUNCTION, "f");
    counts.put(Question.Type.BUILT_ON, 1L);
    becomes("routine/fares.f(text)", f);
    assertThat(found()).as("what comes has nothing built on it").isEmpty();

    stands(f).becomes("routine/fares.f(text)", null);
    assertThat(found()).containsExactly("BLOCKER dependent-breaks routine/fares.f(text)");
    assertThat(findings().get(0).sentence())
        .isEqualTo(
            "operator fares.===(text,text) is built on the function fares.f(text), which goes: the database refuses that, and it is not carried.");
    assertThat(asked).last().isEqualTo(Question.builtOn(f.key(), Set.of("fares")));

    counts.put(Question.Type.BUILT_ON, 3L);
    assertThat(findings().get(0).sentence())
        .startsWith("operator fares.===(text,text) and 2 more are built on");
  }

  @Test
  void rowsWithALabelThatGoesAreCounted() {
    tables.put(BAND, table(null, "fares.kind"));
    stands(labels("fares.kind", "a", "b")).becomes("type/fares.kind", labels("fares.kind", "a"));
    assertThat(found()).isEmpty();
    assertThat(asked)
        .filteredOn(q -> q.type() == Question.Type.LABELS)
        .extracting(Question::text)
        .containsExactly(List.of("fares.kind", "b"));

    counts.put(Question.Type.LABELS, 2L);
    assertThat(findings())
        .extracting(Finding::sentence)
        .containsExactly(
            "2 rows of fares.band have a label in code that type/fares.kind has no more (b).");
  }

  @Test
  void rowsThatADomainForbidsAreCounted() {
    tables.put(BAND, table(null, "fares.price"));
    Map<String, String> none = Map.of("not null", "no");
    Map<String, String> some = Map.of("not null", "yes", "constraint/c", "CHECK (VALUE > 0)");
    stands(shaped("type/fares.price", Sort.DOMAIN, none, "numeric"))
        .becomes("type/fares.price", shaped("type/fares.price", Sort.DOMAIN, some, "numeric"));
    counts.put(Question.Type.VIOLATING_VALUE, 1L);

    assertThat(findings())
        .extracting(Finding::sentence)
        .containsExactly(
            "1 row of fares.band does not meet, in code, c of type/fares.price.",
            "1 row of fares.band does not meet, in code, not null of type/fares.price.");
    assertThat(asked)
        .extracting(q -> q.text().get(0))
        .containsExactly("(VALUE > 0)", "VALUE IS NOT NULL");
  }

  private ObjectRulesTest exchanged(Sort sort, String was, String is) {
    stands(shaped("type/fares.price", sort, Map.of(), was.split("; ")));
    return becomes("type/fares.price", shaped("type/fares.price", sort, Map.of(), is.split("; ")));
  }

  private List<String> askedFor() {
    return asked.stream()
        .filter(q -> q.type() != Question.Type.BYTES && q.type() != Question.Type.BUILT_ON)
        .map(
            q ->
                q.type()
                    + " "
                    + String.join("; ", q.text())
                    + q.converted().made().stream()
                        .map(m -> m.from().expression() + " as " + m.type())
                        .toList())
        .toList();
  }

  @Test
  void valuesOfAnAttributeThatGoesAreCounted() {
    tables.put(BAND, table(null, "fares.price"));
    exchanged(Sort.COMPOSITE, "net numeric; \"VAT %\" text COLLATE \"C\"; note text", "net bigint");
    assertThat(found()).isEmpty();
    assertThat(askedFor())
        .containsExactly(
            "VIOLATING_VALUE ((VALUE).\"VAT %\" IS NULL AND (VALUE).note IS NULL)[]",
            "CONVERSION_FAILS [ROW((code).net::text::bigint) as record]");

    counts.put(Question.Type.VIOLATING_VALUE, 2L);
    counts.put(Question.Type.CONVERSION_FAILS, 1L);
    assertThat(findings())
        .extracting(f -> f.severity() + " " + f.rule() + " " + f.sentence())
        .containsExactly(
            "BLOCKER value-does-not-fit 2 rows of fares.band have a value in \"VAT %\", note of code, which type/fares.price has no more.",
            "BLOCKER value-does-not-fit 1 row of fares.band has a value in code that type/fares.price cannot hold as it will be.");
  }

  /** The server keeps values under another name; who only drops and adds loses them. */
  @Test
  void anAttributeThatMayHaveAnotherNameIsToBeGivenItFirst() {
    tables.put(BAND, table(null, "fares.price"));
    exchanged(
        Sort.COMPOSITE,
        "net numeric; \"VAT %\" text COLLATE \"C\"; note text; gone date",
        "net numeric; rate text COLLATE \"C\"; remark text; came text; more date");
    counts.put(Question.Type.VIOLATING_VALUE, 2L);

    assertThat(findings())
        .filteredOn(f -> f.rule().equals("value-does-not-fit"))
        .extracting(Finding::advice)
        .containsExactly(
            "If attributes only got other names, give them those at the site first, where they keep their values (ALTER TYPE fares.price RENAME ATTRIBUTE \"VAT %\" TO rate CASCADE; ALTER TYPE fares.price RENAME ATTRIBUTE note TO remark CASCADE); else give those rows another value; then compare again");

    exchanged(Sort.COMPOSITE, "net numeric; note text", "note text; gross numeric");
    assertThat(findings())
        .filteredOn(f -> f.rule().equals("value-does-not-fit"))
        .extracting(Finding::advice)
        .as("none stands in the place of one that goes")
        .containsExactly("Give those rows another value at the site first, then compare again");
  }

  @Test
  void anArrayOfACompositeTypeIsReadAsItPrints() {
    tables.put(BAND, table(null, "fares.price[]"));
    exchanged(Sort.COMPOSITE, "net numeric; note text", "note text; net numeric");
    assertThat(askedFor()).isEmpty();
    assertThat(found()).isEmpty();
    assertThat(askedFor())
        .containsExactly("VIOLATING_VALUE (coalesce(pg_catalog.cardinality(VALUE), 0) = 0)[]");
    counts.put(Question.Type.VIOLATING_VALUE, 1L);
    assertThat(findings())
        .extracting(Finding::sentence)
        .containsExactly(
            "1 row of fares.band has values in code, an array of type/fares.price whose attributes are others or stand in another order.");

    counts.clear();
    changes.clear();
    exchanged(Sort.COMPOSITE, "net numeric; note text", "net bigint; note text");
    assertThat(found()).containsExactly("RISK not-counted type/fares.price");
  }

  private void aTextBecomesANumber() {
    stands(shaped("type/fares.price", Sort.DOMAIN, Map.of(), "text"))
        .becomes(
            "type/fares.price",
            shaped(
                "type/fares.price",
                Sort.DOMAIN,
                Map.of("constraint/c", "CHECK (VALUE > 0)"),
                "integer"));
  }

  @Test
  void valuesAreHeldAgainstWhatADomainOrARangeIsOfThen() {
    tables.put(BAND, table(null, "fares.price"));
    aTextBecomesANumber();
    assertThat(found()).isEmpty();
    assertThat(askedFor())
        .containsExactly(
            "CONVERSION_FAILS [(code)::text::integer as integer]",
            "VIOLATING_VALUE (VALUE > 0)[(code)::text::integer as integer]");

    asked.clear();
    changes.clear();
    there.clear();
    exchanged(Sort.RANGE, "SUBTYPE = numeric", "SUBTYPE = bigint");
    assertThat(found()).isEmpty();
    assertThat(askedFor())
        .containsExactly(
            "CONVERSION_FAILS [ROW(pg_catalog.lower((code))::text::bigint, pg_catalog.upper((code))::text::bigint) as record]");
  }

  /** A check of what does not even become the type would end in the server's own words. */
  @Test
  void whatCannotBecomeTheTypeIsHeldAgainstNoCheck() {
    tables.put(BAND, table(null, "fares.price"));
    aTextBecomesANumber();
    counts.put(Question.Type.CONVERSION_FAILS, 3L);

    assertThat(found()).containsExactly("BLOCKER value-does-not-fit table/fares.band#column/code");
    assertThat(asked).noneMatch(q -> q.type() == Question.Type.VIOLATING_VALUE);
  }

  @Test
  void whatCannotBeCountedBeforeIsSaid() {
    TableStructure is = table(null, "text");
    tables.put(BAND, is);
    deltas.add(TableDelta.of(BAND, is, table(check("fares.f(code) > 1"), "text"), null));
    becomes("routine/fares.f(text)", object("routine/fares.f(text)", Sort.FUNCTION, "f"));
    assertThat(found()).containsExactly("RISK not-counted table/fares.band#constraint/c");

    changes.clear();
    stands(object("routine/fares.f(text)", Sort.FUNCTION, "f"));
    assertThat(found()).isEmpty();
  }

  @Test
  void whatIsMadeAgainIsSaid() {
    TableStructure is = table(null, "text");
    tables.put(BAND, is);
    stands(view("fares.v", "v", "table/fares.band#column/code"));
    deltas.add(TableDelta.of(BAND, is, table(null, "bigint"), null));

    assertThat(findings())
        .filteredOn(f -> f.rule().equals("made-again"))
        .extracting(Finding::sentence)
        .containsExactly(
            "the view fares.v goes and is made again in the same transaction, with who may use it: something below changes.");
  }

  @Test
  void aLargeTableThatIsWrittenAnewIsClosedMeanwhile() {
    tables.put(BAND, table(null, "fares.kind"));
    stands(labels("fares.kind", "a", "b")).becomes("type/fares.kind", labels("fares.kind", "a"));
    counts.put(Question.Type.BYTES, 200L << 20);

    assertThat(found()).containsExactly("RISK long-lock table/fares.band");
    assertThat(ObjectDelta.Act.values()).hasSize(5);
  }
}
