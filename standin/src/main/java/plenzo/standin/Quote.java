package plenzo.standin;

import java.math.BigDecimal;
import java.math.RoundingMode;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.regex.Pattern;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/**
 * Works out what people are asked to pay: the form says which field chooses the base price and
 * where that stands in the site's database, the rules that are on change it, in their order.
 */
final class Quote {
  private static final JsonMapper JSON = new JsonMapper();
  private static final Pattern NAME = Pattern.compile("[a-z_][a-z0-9_]*");

  private final StateFile file;
  private final Database database;

  Quote(StateFile file, Database database) {
    this.file = file;
    this.database = database;
  }

  /** Where the site's database is. */
  record Database(String url, String account, String password) {}

  /** A question that cannot be answered, with the reason for who asked. */
  static final class Refused extends RuntimeException {
    Refused(String message) {
      super(message);
    }
  }

  /**
   * @param question {@code {"form":"fares.quote","values":{"band":"FOOT","night":"true"}}}
   * @return {@code {"amount":"18.00","steps":["base 12.00", …]}}
   */
  String answer(String question) {
    JsonNode asked;
    try {
      asked = JSON.readTree(question);
    } catch (JacksonException e) {
      throw new Refused("A question is JSON");
    }
    State state = file.now();
    String name = asked.path("form").asString("");
    State.Held form = state.definitions().get("form/" + name);
    if (form == null || !form.active()) {
      throw new Refused("The form " + name + " is " + (form == null ? "not here" : "off"));
    }
    JsonNode definition = JSON.readTree(form.text()).path("definition");
    JsonNode values = asked.path("values");
    for (JsonNode field : definition.path("fields")) {
      String f = field.path("name").asString("");
      if (field.path("required").asBoolean(false) && !values.has(f)) {
        throw new Refused("The field " + f + " must be filled");
      }
    }
    List<String> steps = new ArrayList<>();
    BigDecimal amount = base(definition.path("base"), values);
    steps.add("base " + amount);
    for (JsonNode rule : rules(state, name)) {
      if (matches(rule.path("when"), values)) {
        amount = apply(rule.path("then"), amount, state);
        steps.add(
            rule.path("says").asString("rule") + " " + amount.setScale(2, RoundingMode.HALF_UP));
      }
    }
    ObjectNode out = JSON.createObjectNode();
    out.put("amount", amount.setScale(2, RoundingMode.HALF_UP).toPlainString());
    steps.forEach(out.putArray("steps")::add);
    String payAt = payAt(state, definition);
    if (!payAt.isEmpty()) {
      out.put("payAt", payAt);
    }
    return JSON.writeValueAsString(out);
  }

  /** The rules of a form that are on, in their order. */
  private static List<JsonNode> rules(State state, String form) {
    List<JsonNode> out = new ArrayList<>();
    for (Map.Entry<String, State.Held> e : state.definitions().entrySet()) {
      if (e.getKey().startsWith("rule/") && e.getValue().active()) {
        JsonNode definition = JSON.readTree(e.getValue().text()).path("definition");
        if (definition.path("form").asString("").equals(form)) {
          out.add(definition);
        }
      }
    }
    out.sort(Comparator.comparingInt(r -> r.path("order").asInt(0)));
    return out;
  }

  private static boolean matches(JsonNode when, JsonNode values) {
    for (Map.Entry<String, JsonNode> e : when.properties()) {
      if (!values.path(e.getKey()).asString("").equals(e.getValue().asString(""))) {
        return false;
      }
    }
    return true;
  }

  private static BigDecimal apply(JsonNode then, BigDecimal amount, State state) {
    BigDecimal out = amount;
    if (then.has("add")) {
      out = out.add(new BigDecimal(then.path("add").asString("0")));
    }
    if (then.has("multiply")) {
      out = out.multiply(new BigDecimal(then.path("multiply").asString("1")));
    }
    if (then.has("atMostInput")) {
      State.Value limit = state.inputs().get(then.path("atMostInput").asString(""));
      if (limit != null) {
        out = out.min(new BigDecimal(limit.value()));
      }
    }
    return out;
  }

  /** Where the integration of the form takes the money. */
  private static String payAt(State state, JsonNode definition) {
    String integration = definition.path("pays").asString("");
    State.Held held = state.definitions().get("integration/" + integration);
    if (held == null || !held.active()) {
      return "";
    }
    String input = JSON.readTree(held.text()).path("definition").path("address").asString("");
    State.Value address = state.inputs().get(input);
    return address == null ? "" : address.value();
  }

  private BigDecimal base(JsonNode base, JsonNode values) {
    String table = base.path("table").asString("");
    String key = base.path("key").asString("");
    String value = base.path("value").asString("");
    for (String part : (table + "." + key + "." + value).split("\\.")) {
      if (!NAME.matcher(part).matches()) {
        throw new Refused("The form names no table and columns that can be read");
      }
    }
    String chosen = values.path(base.path("field").asString("")).asString("");
    try (Connection c =
            DriverManager.getConnection(database.url(), database.account(), database.password());
        PreparedStatement s =
            c.prepareStatement("SELECT " + value + " FROM " + table + " WHERE " + key + " = ?")) {
      s.setString(1, chosen);
      try (ResultSet r = s.executeQuery()) {
        if (!r.next()) {
          throw new Refused("There is no " + key + " \"" + chosen + "\"");
        }
        return r.getBigDecimal(1);
      }
    } catch (SQLException e) {
      throw new Refused("The site's database does not answer: " + e.getMessage());
    }
  }
}
