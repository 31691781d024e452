package plenzo.core.item;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import plenzo.core.component.ComponentKey;
import plenzo.core.item.Definition.Input;
import plenzo.core.json.Json;

/** Component documents. */
class DefinitionTest {
  private static final ComponentKey KEY = ComponentKey.of("rule/fares.night");
  private static final String WHOLE =
      """
      {"format":1,"kind":"rule","name":"fares.night","title":"Night",
       "references":[{"how":"reads","component":"table/fares.band"}],
       "inputs":[{"name":"ceiling","type":"number","description":"Highest","default":"400"},
                 {"name":"key","type":"text","secret":true,"description":""}],
       "definition":{"x":1}}""";

  @Test
  void readsWhatItWrites() {
    Definition d = Definition.of(KEY, Json.parse(WHOLE));

    assertThat(Definition.of(KEY, d.toJson())).isEqualTo(d);
    assertThat(d.references().get(0).component()).isEqualTo(ComponentKey.of("table/fares.band"));
    assertThat(d.inputs()).extracting(Input::secret).containsExactly(false, true);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "\"format\":1|\"format\":2|not of format 1",
        "\"name\":\"fares.night\"|\"name\":\"fares.day\"|another kind or name",
        "\"kind\":\"rule\"|\"kind\":\"form\"|another kind or name",
        "\"definition\":{\"x\":1}|\"definition\":[]|no object \"definition\"",
        "\"title\":\"Night\"|\"titel\":\"Night\"|unknown member \"titel\"",
        "\"how\":\"reads\"|\"how\":\"eats\"|a reference without",
        "table/fares.band|tabel/fares.band|is not a kind; one of: type",
        "\"name\":\"ceiling\"|\"name\":\"Ceiling\"|lower-case letters",
        "\"type\":\"number\"|\"type\":\"float\"|is not a type of input; one of: text",
        "\"secret\":true|\"secret\":true,\"default\":\"x\"|has a default"
      })
  void refusesAnythingElseAndNamesIt(String what, String by, String why) {
    String text = WHOLE.replace(what, by);
    assertThat(text).isNotEqualTo(WHOLE);

    assertThatThrownBy(() -> Definition.of(KEY, Json.parse(text)))
        .isInstanceOf(IllegalArgumentException.class)
        .hasMessageContaining(why);
  }

  @ParameterizedTest
  @CsvSource({
    "NUMBER, 12, true",
    "NUMBER, -12.50, true",
    "NUMBER, 1e5, false",
    "FLAG, true, true",
    "FLAG, yes, false",
    "ADDRESS, https://terminal.example/x, true",
    "ADDRESS, terminal.example, false",
    "TEXT, x, true",
    "TEXT, '', false"
  })
  void checksValues(Input.Type type, String value, boolean fits) {
    Input input = new Input("x", type, "", false, null, null);
    assertThat(input.problem(value).isEmpty()).isEqualTo(fits);
  }

  @Test
  void checksThePattern() {
    Input input = new Input("x", Input.Type.TEXT, "", false, null, "[A-Z]{2}");
    assertThat(input.problem("AB")).isEmpty();
    assertThat(input.problem("AbC")).contains("does not match");
  }
}
