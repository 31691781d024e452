package plenzo.core.item;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Map;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import plenzo.core.comparison.Decision;
import plenzo.core.json.Json;

/**
 * What both sides moved of a definition is taken together only where they moved different parts.
 */
class DefinitionMergeTest {
  private static String both(String base, String present, String incoming) {
    return DefinitionMerge.both(Json.parse(base), Json.parse(present), Json.parse(incoming))
        .map(Json::canonical)
        .orElse("none");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '~',
      value = {
        // each moves another member
        "{\"a\":1,\"b\":1} | {\"a\":2,\"b\":1} | {\"a\":1,\"b\":2} | {\"a\":2,\"b\":2}",
        // also further in
        "{\"x\":{\"a\":1,\"b\":1}} | {\"x\":{\"a\":2,\"b\":1}} | {\"x\":{\"a\":1,\"b\":2}} | {\"x\":{\"a\":2,\"b\":2}}",
        // each adds one
        "{\"a\":1} | {\"a\":1,\"b\":1} | {\"a\":1,\"c\":1} | {\"a\":1,\"b\":1,\"c\":1}",
        // one takes one away, the other changes another
        "{\"a\":1,\"b\":1} | {\"b\":1} | {\"a\":1,\"b\":2} | {\"b\":2}",
        // both moved it to the same
        "{\"a\":1,\"b\":1} | {\"a\":2,\"b\":1} | {\"a\":2,\"b\":2} | {\"a\":2,\"b\":2}",
        // items that have names
        "[{\"name\":\"a\",\"v\":1},{\"name\":\"b\",\"v\":1}] | [{\"name\":\"a\",\"v\":2},{\"name\":\"b\",\"v\":1}] | [{\"name\":\"n\"},{\"name\":\"a\",\"v\":1},{\"name\":\"b\",\"v\":3}] | [{\"name\":\"a\",\"v\":2},{\"name\":\"b\",\"v\":3},{\"name\":\"n\"}]",
        // items without names, of one length
        "[1,1] | [2,1] | [1,3] | [2,3]",
        // and where one side added some, another stretch was moved by the other
        "[1,2] | [9,1,2] | [1,3] | [9,1,3]",
        "[1,2,3] | [2,3] | [1,2,3,4,5] | [2,3,4,5]",
      })
  void takesWhatEitherSideMoved(String base, String present, String incoming, String both) {
    assertThat(both(base, present, incoming)).isEqualTo(both);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '~',
      value = {
        // one member to different values
        "{\"a\":1} | {\"a\":2} | {\"a\":3}",
        // one side takes away what the other changed
        "{\"a\":1,\"b\":1} | {\"b\":1} | {\"a\":2,\"b\":1}",
        // both add one of the same name
        "{} | {\"a\":1} | {\"a\":2}",
        // which unnamed item is which cannot be told
        "[1,2] | [9,2] | [8,1,2]",
        // another sort of value
        "{\"a\":{\"x\":1}} | {\"a\":[1]} | {\"a\":{\"x\":2}}",
      })
  void takesNothingWhereBothMovedTheSame(String base, String present, String incoming) {
    assertThat(both(base, present, incoming)).isEqualTo("none");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '~',
      value = {
        // the member itself
        "{\"a\":1} | {\"a\":2} | {\"a\":3} | a | TAKE_INCOMING | {\"a\":3}",
        "{\"a\":1} | {\"a\":2} | {\"a\":3} | a | KEEP | {\"a\":2}",
        // one that one side took away
        "{\"a\":1,\"b\":1} | {\"b\":1} | {\"a\":2,\"b\":1} | a | KEEP | {\"b\":1}",
        // further in, in a list of named items
        "[{\"name\":\"x\",\"v\":1}] | [{\"name\":\"x\",\"v\":2}] | [{\"name\":\"x\",\"v\":3}] | x/v | TAKE_INCOMING | [{\"name\":\"x\",\"v\":3}]",
        // a list of unnamed items as a whole, by one of its places
        "{\"l\":[1,2]} | {\"l\":[9,2]} | {\"l\":[8,1,2]} | l/0 | KEEP | {\"l\":[9,2]}",
        // what somebody said of another member decides nothing
        "{\"a\":1} | {\"a\":2} | {\"a\":3} | b | KEEP | none",
        // what only one side moved stays with it, whatever was said
        "{\"a\":1} | {\"a\":2} | {\"a\":1} | a | TAKE_INCOMING | {\"a\":2}",
      })
  void takesTheSideThatWasChosenOfAMember(
      String base, String present, String incoming, String path, Decision decision, String both) {
    assertThat(
            DefinitionMerge.both(
                    Json.parse(base),
                    Json.parse(present),
                    Json.parse(incoming),
                    Map.of(path, decision))
                .map(Json::canonical)
                .orElse("none"))
        .isEqualTo(both);
  }
}
