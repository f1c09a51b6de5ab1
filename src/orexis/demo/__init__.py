"""The demo scenario: a harbour town's band before its lighthouse's centenary."""
