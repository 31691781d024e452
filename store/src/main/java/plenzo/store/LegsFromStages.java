package plenzo.store;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

/**
 * Schema 7: approvals, verdict and proof were asked for by a stage, and are by the leg of a path
 * that leads there. Each leg takes what its stage asked; may be begun anew at any point.
 */
final class LegsFromStages {
  private static final JsonMapper JSON = new JsonMapper();

  /** The format of a path whose legs ask for something. */
  private static final int FORMAT = 2;

  private LegsFromStages() {}

  static void bring(Connection connection) throws SQLException {
    Map<String, JsonNode> stages = bodies(connection, "stage");
    for (Map.Entry<String, JsonNode> path : bodies(connection, "path").entrySet()) {
      ObjectNode body = (ObjectNode) path.getValue();
      if (body.path("format").asInt(1) >= FORMAT) {
        continue;
      }
      List<String> keys = new ArrayList<>();
      body.get("legs").forEach(leg -> keys.add(leg.asString()));
      ArrayNode legs = body.putArray("legs");
      keys.forEach(key -> legs.add(leg(key, stages.get(key))));
      body.put("format", FORMAT);
      try (PreparedStatement s =
          connection.prepareStatement("UPDATE path SET body = ? WHERE id = ?")) {
        s.setString(1, JSON.writeValueAsString(body));
        s.setString(2, path.getKey());
        s.executeUpdate();
      }
    }
  }

  private static Map<String, JsonNode> bodies(Connection connection, String table)
      throws SQLException {
    Map<String, JsonNode> out = new HashMap<>();
    try (Statement s = connection.createStatement();
        ResultSet r = s.executeQuery("SELECT id, body FROM " + table)) {
      while (r.next()) {
        out.put(r.getString(1), JSON.readTree(r.getString(2)));
      }
    }
    return out;
  }

  /**
   * @param stage as it was kept; null when it is no more: one approval is asked for then
   */
  static ObjectNode leg(String key, @org.jspecify.annotations.Nullable JsonNode stage) {
    ObjectNode leg = JsonNodeFactory.instance.objectNode();
    leg.put("stage", key);
    int count = stage == null ? 1 : stage.path("approvals").asInt(0);
    ArrayNode approvals = leg.putArray("approvals");
    if (count > 0) {
      approvals.addObject().put("role", "").put("count", count);
    }
    leg.put("approvalDays", 0);
    leg.put("verdict", stage != null && stage.path("needsVerdict").asBoolean(false));
    leg.put("everySite", false);
    leg.put("soakDays", 0);
    leg.put("task", "");
    leg.put("proof", stage != null && stage.path("needsProof").asBoolean(false));
    leg.putArray("apart");
    return leg;
  }
}
