package plenzo.server.web;

import java.lang.reflect.Type;
import org.jspecify.annotations.Nullable;
import org.springframework.core.MethodParameter;
import org.springframework.http.HttpInputMessage;
import org.springframework.http.converter.HttpMessageConverter;
import org.springframework.web.bind.annotation.ControllerAdvice;
import org.springframework.web.servlet.mvc.method.annotation.RequestBodyAdviceAdapter;
import plenzo.core.json.Whole;

/**
 * Every body is held against its record before anybody sees it. Records are the one description of
 * a body; the API's document is made of them.
 */
@ControllerAdvice
class BodyShape extends RequestBodyAdviceAdapter {
  @Override
  public boolean supports(
      MethodParameter parameter, Type target, Class<? extends HttpMessageConverter<?>> converter) {
    return true;
  }

  /** Also called for the word {@code null}, which is no body. */
  @Override
  public Object afterBodyRead(
      @Nullable Object body,
      HttpInputMessage input,
      MethodParameter parameter,
      Type target,
      Class<? extends HttpMessageConverter<?>> converter) {
    return Whole.require(body);
  }
}
