package plenzo.core.object;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static plenzo.core.object.SomeObjects.labels;
import static plenzo.core.object.SomeObjects.object;
import static plenzo.core.object.SomeObjects.shaped;

import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.ObjectName;
import plenzo.core.component.TableName;
import plenzo.core.json.Json;
import plenzo.core.object.SchemaObject.Needed;
import plenzo.core.object.SchemaObject.Sort;

class SchemaObjectTest {
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "view/fares.tariff|fares||tariff|",
        "view/fares.\"a.b\"|fares||a.b|",
        "view/\"my \"\"fares\"\".x\".v|my \"fares\".x||v|",
        "routine/fares.f(bigint, text)|fares||f|bigint, text",
        "routine/fares.f()|fares||f|''",
        "routine/fares.\"odd(name)\"(fares.\"k.d\"[])|fares||odd(name)|fares.\"k.d\"[]",
        "trigger/fares.band.audit|fares|band|audit|",
        "policy/fares.\"ba.nd\".own|fares|ba.nd|own|",
      })
  void aNameIsReadAsItIsWritten(
      String key, String schema, String table, String name, String arguments) {
    ObjectName read = ObjectName.of(ComponentKey.of(key));

    assertThat(read).isEqualTo(new ObjectName(schema, table, name, arguments));
    assertThat(read.key(ComponentKey.of(key).kind())).hasToString(key);
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "view/tariff",
        "view/fares.band.x",
        "view/fares.f(x)",
        "routine/fares.f",
        "trigger/fares.audit",
        "view/fares.\"open",
        "view/.x"
      })
  void anythingElseIsNoName(String key) {
    assertThatThrownBy(() -> ObjectName.of(ComponentKey.of(key)))
        .isInstanceOf(IllegalArgumentException.class)
        .hasMessageContaining("is written schema.");
  }

  @Test
  void itsDigestSaysKindAndContentAlone() {
    SchemaObject a = object("view/fares.v", Sort.VIEW, "SELECT 1", "table/b.b", "table/a.a");
    SchemaObject b = object("view/fares.v", Sort.VIEW, "SELECT 1", "table/a.a", "table/b.b");

    assertThat(a.digest()).isEqualTo(b.digest());
    assertThat(SchemaObject.of(a.key(), a.canonical())).isEqualTo(a);
    assertThat(object("view/fares.v", Sort.VIEW, "SELECT 2").digest()).isNotEqualTo(a.digest());
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "{}",
        "{\"format\":2,\"kind\":\"view\",\"name\":\"fares.v\",\"sort\":\"view\"}",
        "{\"format\":1,\"kind\":\"view\",\"name\":\"fares.w\",\"sort\":\"view\"}",
        "{\"format\":1,\"kind\":\"type\",\"name\":\"fares.v\",\"sort\":\"view\"}",
        "{\"format\":1,\"kind\":\"view\",\"name\":\"fares.v\",\"sort\":\"window\"}",
        "{\"format\":1,\"kind\":\"view\",\"name\":\"fares.v\",\"sort\":\"view\",\"parts\":{\"a\":1}}",
        "[]"
      })
  void anotherDocumentIsRefused(String text) {
    assertThatThrownBy(() -> SchemaObject.of(ComponentKey.of("view/fares.v"), Json.parse(text)))
        .isInstanceOf(IllegalArgumentException.class);
  }

  @Test
  void aViewCanBecomeOneWithMoreColumnsBehind() {
    SchemaObject two = shaped("view/fares.v", Sort.VIEW, Map.of(), "a text", "b text");

    assertThat(
            two.canBecome(
                shaped("view/fares.v", Sort.VIEW, Map.of(), "a text", "b text", "c text")))
        .isTrue();
    assertThat(two.canBecome(shaped("view/fares.v", Sort.VIEW, Map.of(), "a text"))).isFalse();
    assertThat(two.canBecome(shaped("view/fares.v", Sort.VIEW, Map.of(), "a text", "b bigint")))
        .isFalse();
    assertThat(
            two.canBecome(
                shaped("view/fares.v", Sort.MATERIALIZED_VIEW, Map.of(), "a text", "b text")))
        .isFalse();
  }

  @Test
  void aRoutineCanWhileArgumentsAndResultStay() {
    SchemaObject f =
        shaped("routine/fares.f(text)", Sort.FUNCTION, Map.of(), "(a text)", "returns text");

    assertThat(
            f.canBecome(
                shaped(
                    "routine/fares.f(text)", Sort.FUNCTION, Map.of(), "(a text)", "returns text")))
        .isTrue();
    assertThat(
            f.canBecome(
                shaped(
                    "routine/fares.f(text)", Sort.FUNCTION, Map.of(), "(b text)", "returns text")))
        .isFalse();
    assertThat(
            f.canBecome(
                shaped(
                    "routine/fares.f(text)",
                    Sort.FUNCTION,
                    Map.of(),
                    "(a text)",
                    "returns bigint")))
        .isFalse();
  }

  @Test
  void anEnumerationCanGainLabelsAnywhereAndLoseNone() {
    assertThat(labels("fares.k", "a", "c").canBecome(labels("fares.k", "z", "a", "b", "c")))
        .isTrue();
    assertThat(labels("fares.k", "a", "c").canBecome(labels("fares.k", "c", "a"))).isFalse();
    assertThat(labels("fares.k", "a", "c").canBecome(labels("fares.k", "a"))).isFalse();
  }

  @Test
  void aCompositeTypeCanGainAttributesBehind() {
    SchemaObject type = shaped("type/fares.p", Sort.COMPOSITE, Map.of(), "a text", "b text");

    assertThat(
            type.canBecome(
                shaped("type/fares.p", Sort.COMPOSITE, Map.of(), "a text", "b text", "c text")))
        .isTrue();
    assertThat(type.canBecome(shaped("type/fares.p", Sort.COMPOSITE, Map.of(), "a text")))
        .as("its values would be lost where they stand")
        .isFalse();
    assertThat(
            type.canBecome(
                shaped("type/fares.p", Sort.COMPOSITE, Map.of(), "c text", "a text", "b text")))
        .isFalse();
  }

  @Test
  void aDomainCanUnlessItsBaseIsAnother() {
    SchemaObject d = shaped("type/fares.d", Sort.DOMAIN, Map.of("not null", "no"), "text");

    assertThat(d.canBecome(shaped("type/fares.d", Sort.DOMAIN, Map.of("not null", "yes"), "text")))
        .isTrue();
    assertThat(d.canBecome(shaped("type/fares.d", Sort.DOMAIN, Map.of(), "bigint"))).isFalse();
  }

  @Test
  void aBodyIsLookedIntoForNamesThatAreKnown() {
    KnownObjects known =
        new KnownObjects(
            Set.of(
                ComponentKey.of("table/fares.band"),
                ComponentKey.of("table/fares.Odd"),
                ComponentKey.of("table/other.band"),
                ComponentKey.of("view/fares.dear"),
                ComponentKey.of("routine/fares.g(text)"),
                ComponentKey.of("routine/fares.g(bigint)"),
                ComponentKey.of("sequence/fares.s")));
    SchemaObject f =
        object(
            "routine/fares.f()",
            Sort.FUNCTION,
            "CREATE FUNCTION fares.f() AS $b$ SELECT fares.g(code) FROM band b JOIN \"Odd\" o ON true -- from dear\n WHERE b.dear > 1; $b$");

    assertThat(known.inBody(f))
        .extracting(ComponentKey::toString)
        .containsExactly(
            "routine/fares.g(bigint)",
            "routine/fares.g(text)",
            "table/fares.Odd",
            "table/fares.band");
  }

  @Test
  void foundationsAreWhatMustBeThereFirst() {
    SchemaObject a = object("view/fares.a", Sort.VIEW, "a", "view/fares.b", "table/far.away");
    SchemaObject b = object("view/fares.b", Sort.VIEW, "b", "routine/fares.f()");
    SchemaObject f = object("routine/fares.f()", Sort.FUNCTION, "f");

    assertThat(
            new Foundations(Map.of(), new TreeMap<>(Map.of(a.key(), a, b.key(), b, f.key(), f)))
                .of(List.of(a.key())))
        .extracting(ComponentKey::toString)
        .containsExactly("routine/fares.f()", "view/fares.a", "view/fares.b");
  }

  @Test
  void itsTextIsReadAsCodeAndThenLineByLine() {
    SchemaObject domain =
        shaped("type/fares.d", Sort.DOMAIN, Map.of("constraint/c", "CHECK (VALUE > 0)"), "text");

    assertThat(domain.text()).isEqualTo("of: text\nconstraint/c: CHECK (VALUE > 0)\n");
    assertThat(object("view/fares.v", Sort.VIEW, " SELECT 1 ").text()).isEqualTo("SELECT 1\n");
    assertThat(new Needed(ComponentKey.of("table/a.b"), List.of("b", "a")).parts())
        .containsExactly("a", "b");
    assertThat(ObjectName.on(new TableName("a.b", "c"), "d").key(Kind.TRIGGER))
        .hasToString("trigger/\"a.b\".c.d");
  }

  @Test
  void aGrantFollowsItsTableAndTheColumnsItIsAbout() {
    SchemaObject grant =
        shaped(
            "grant/fares.band.desk",
            Sort.GRANT,
            Map.of("SELECT", "yes", "UPDATE (note (old))", "yes", "UPDATE (code)", "yes"),
            "table");
    TableName rate = TableName.of("fares.rate");

    SchemaObject renamed =
        grant.renamed(
            new plenzo.core.table.Renaming(
                Map.of(TableName.of("fares.band"), rate), Map.of(rate, Map.of("code", "key"))));

    assertThat(grant.text()).contains("UPDATE (code): yes\n");
    assertThat(renamed.key()).hasToString("grant/fares.rate.desk");
    assertThat(renamed.parts()).containsOnlyKeys("SELECT", "UPDATE (note (old))", "UPDATE (key)");
    assertThat(GrantedRights.column("UPDATE (note (old))")).isEqualTo("note (old)");
    assertThat(grant.canBecome(renamed)).isTrue();
    assertThat(ObjectName.of(ComponentKey.of("grant/fares.\"half(integer)\".PUBLIC")))
        .isEqualTo(ObjectName.on(new TableName("fares", "half(integer)"), "PUBLIC"));
  }

  @Test
  void attributesAreToldByTheirNames() {
    assertThat(
            SomeObjects.shaped(
                    "type/fares.place",
                    Sort.COMPOSITE,
                    Map.of(),
                    "city text COLLATE \"C\"",
                    "\"The \"\"odd\"\" one\" numeric(8,2)",
                    "\"x\" text")
                .attributes())
        .containsExactly(
            Map.entry("city", "text COLLATE \"C\""),
            Map.entry("\"The \"\"odd\"\" one\"", "numeric(8,2)"),
            Map.entry("\"x\"", "text"));
  }
}
